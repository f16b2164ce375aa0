"""The field door on this machine: its authority, what that vouches for and what not, its name while addresses change."""

from __future__ import annotations

import ipaddress
import socket
import ssl
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path

import pytest
from cryptography import x509
from cryptography.hazmat.primitives.asymmetric import ec
from fastapi import FastAPI
from zeroconf import AddressResolverIPv4, Zeroconf

from jinba.cli.field import authority as issuing
from jinba.cli.field.announce import Announcer
from jinba.cli.field.authority import Authority, authority
from jinba.cli.field.serving import FieldDoor


@pytest.fixture
def own(tmp_path) -> Authority:
    return authority(tmp_path / "field")


def test_its_keys_are_the_owners_alone_and_it_stays_the_same(own):
    own.renewed({"192.168.7.5"})
    assert own.folder.stat().st_mode & 0o777 == 0o700
    for file in own.folder.iterdir():
        if file.suffix == ".key":
            assert file.stat().st_mode & 0o777 == 0o600, file.name
    again = authority(own.folder)
    assert (again.name, again.fingerprint) == (own.name, own.fingerprint)
    assert own.name.endswith(".local")
    (own.folder / "authority.key").write_text("damaged")
    other = authority(own.folder)
    assert other.fingerprint != own.fingerprint
    assert other.name != own.name, "a phone that trusts the old one is not confused by the new"


def test_a_certificate_lives_at_most_ninety_days_and_is_made_anew_in_time_or_for_another_address(own, monkeypatch):
    assert own.renewed({"192.168.7.5", "203.0.113.9"})
    leaf = x509.load_pem_x509_certificate(own.leaf_files[0].read_bytes())
    assert leaf.not_valid_after_utc - leaf.not_valid_before_utc <= timedelta(days=90)
    names = leaf.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    assert names.get_values_for_type(x509.DNSName) == [own.name]
    assert [str(a) for a in names.get_values_for_type(x509.IPAddress)] == ["192.168.7.5"], "no address of the internet"
    assert not own.renewed({"192.168.7.5"})
    assert own.renewed({"172.20.10.2"})
    monkeypatch.setattr(issuing, "LEAF_LIVES", timedelta(days=20))
    own.leaf_files[0].unlink()
    assert own.renewed({"172.20.10.2"})
    assert own.renewed({"172.20.10.2"}), "twenty days are too few to leave it"


def shaken(own: Authority, wanted: str) -> str:
    """Return what OpenSSL says of the authority's certificate for a name, empty when it holds: judged as a browser does."""
    server, client = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER), ssl.create_default_context(cadata=own.der)
    server.load_cert_chain(*own.leaf_files)
    to_client, to_server = ssl.MemoryBIO(), ssl.MemoryBIO()
    ends = (
        client.wrap_bio(to_client, to_server, server_hostname=wanted),
        server.wrap_bio(to_server, to_client, server_side=True),
    )
    for _ in range(6):
        for end in ends:
            try:
                end.do_handshake()
            except ssl.SSLWantReadError:
                continue
            except ssl.SSLCertVerificationError as error:
                return error.verify_message
    return ""


def test_it_vouches_for_its_name_and_private_addresses_and_for_nothing_else_on_the_internet(own):
    own.renewed({"192.168.7.5"})
    assert shaken(own, own.name) == ""
    assert shaken(own, "192.168.7.5") == ""
    assert "Hostname mismatch" in shaken(own, "bank.example")
    for stolen in (x509.DNSName("bank.example"), x509.IPAddress(ipaddress.ip_address("203.0.113.9"))):
        # Somebody has the key and signs for another name: no device believes it.
        key = ec.generate_private_key(ec.SECP256R1())
        leaf = issuing._leaf(own, key, x509.SubjectAlternativeName([stolen]))
        own.leaf_files[0].write_bytes(issuing._chain(leaf, own.certificate))
        own.leaf_files[1].write_bytes(issuing._pem(key))
        assert "permitted subtree violation" in shaken(own, str(stolen.value))


class Network:
    """The addresses a machine has; they change on the way from the bench to the field."""

    def __init__(self, *addresses: str) -> None:
        self.addresses = frozenset(addresses)

    def __call__(self) -> frozenset[str]:
        return self.addresses


class Told(Announcer):
    """Announces on loopback alone, and remembers what."""

    def __init__(self, name: str, port: int) -> None:
        super().__init__(name, port, interfaces=["127.0.0.1"])
        self.said: list[frozenset[str]] = []

    def say(self, addresses) -> None:
        self.said.append(frozenset(addresses))
        super().say(addresses)


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@pytest.fixture
def network() -> Network:
    return Network("192.168.7.5")


@pytest.fixture
def door(tmp_path: Path, network: Network) -> Iterator[FieldDoor]:
    opened = FieldDoor(tmp_path / "field", port=free_port(), addresses=network, announcer=Told)
    opened.start(FastAPI(openapi_url=None))
    yield opened
    opened.stop()


def names_served(door: FieldDoor) -> list[str]:
    """Return for which names the server's certificate is, verified by its authority and by the name."""
    client = ssl.create_default_context(cadata=door.site.authority)
    with (
        socket.create_connection(("127.0.0.1", door.port), timeout=10) as plain,
        client.wrap_socket(plain, server_hostname=door.site.name) as tls,
    ):
        assert tls.version() in ("TLSv1.2", "TLSv1.3")
        return sorted(value for _, value in dict(tls.getpeercert() or {})["subjectAltName"])


def found(name: str) -> list[str]:
    """Ask the local network for a name, as a phone does."""
    asking = Zeroconf(interfaces=["127.0.0.1"])
    resolver = AddressResolverIPv4(f"{name}.")
    resolver.request(asking, 4000)
    asking.close()
    return resolver.parsed_addresses()


def test_on_another_network_it_is_found_under_the_same_name_with_a_certificate_that_holds(door, network):
    name, address = door.site.name, door.site.address
    assert names_served(door) == ["192.168.7.5", name]
    assert found(name) == ["192.168.7.5"]
    network.addresses = frozenset({"172.20.10.2"})
    door.look()
    assert names_served(door) == ["172.20.10.2", name]
    assert found(name) == ["172.20.10.2"]
    assert (door.site.name, door.site.address) == (name, address), "what the phone has stored stays its own"
    assert "172.20.10.2" in door.site
    assert "192.168.7.5" not in door.site
    network.addresses = frozenset()
    door.look()
    assert names_served(door) == [name], "with no network at all it serves on"
    assert [set(s) for s in door.announcer.said] == [{"192.168.7.5"}, {"172.20.10.2"}, set()]  # type: ignore[attr-defined]
