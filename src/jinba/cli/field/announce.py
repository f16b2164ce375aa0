"""The name of the field door on the local network: announced by multicast DNS, with the addresses this machine has now.

References: RFC 6762 (multicast DNS), RFC 6763 (service discovery); from memory. Done by the libraries ``zeroconf`` and ``ifaddr``.
"""

from __future__ import annotations

import ipaddress
from collections.abc import Collection

import ifaddr
from zeroconf import Error as ZeroconfError
from zeroconf import InterfaceChoice, ServiceInfo, Zeroconf

from jinba.cli.field.authority import PRIVATE

SERVICE = "_https._tcp.local."

TROUBLE = (OSError, ZeroconfError)
"""What announcing may raise: no network, or a network that refuses."""


def private_addresses() -> frozenset[str]:
    """Return this machine's addresses that a device on the same network reaches, loopback's not among them."""
    every = (ip.ip for adapter in ifaddr.get_adapters() for ip in adapter.ips if ip.is_IPv4)
    found = [a for a in map(ipaddress.IPv4Address, every) if any(a in n for n in PRIVATE) and not a.is_loopback]
    return frozenset(map(str, found))


class Announcer:
    """Answers on the local network whoever asks for the name."""

    def __init__(self, name: str, port: int, *, interfaces: list[str] | InterfaceChoice = InterfaceChoice.All) -> None:
        self.name, self.port, self.interfaces = name, port, interfaces
        self.zeroconf: Zeroconf | None = None

    def say(self, addresses: Collection[str]) -> None:
        """Announce the name with these addresses; what was announced before is taken back. Raises: one of :data:`TROUBLE`."""
        self.stop()
        if not addresses:
            return
        # The sockets belong to the addresses of their time: after a change they are made anew.
        self.zeroconf = Zeroconf(interfaces=self.interfaces)
        label = self.name.removesuffix(".local")
        self.zeroconf.register_service(
            ServiceInfo(
                SERVICE,
                f"{label}.{SERVICE}",
                port=self.port,
                parsed_addresses=sorted(addresses),
                server=f"{self.name}.",
            ),
            # The label of the service may change where another one has it; the name that phones ask for stays.
            allow_name_change=True,
        )

    def stop(self) -> None:
        """Take the name back."""
        if self.zeroconf is not None:
            self.zeroconf.close()
            self.zeroconf = None
