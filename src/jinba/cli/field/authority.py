"""A certificate authority of this machine's own, for one name and private addresses only, and the certificates it gives that name.

References: RFC 5280 (certificates, name constraints in section 4.2.1.10), RFC 6125 (names); from memory. Made by the library
``cryptography``; nothing is signed by hand.
"""

from __future__ import annotations

import contextlib
import ipaddress
import os
import secrets
from collections.abc import Collection
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

PRIVATE = tuple(
    ipaddress.ip_network(n) for n in ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8")
)
"""Addresses no other network can route to (RFC 1918, RFC 3927, RFC 1122; from memory)."""

AUTHORITY_LIVES = timedelta(days=5 * 365)
LEAF_LIVES = timedelta(days=90)
LEAF_RENEWED = timedelta(days=30)
"""A certificate with less than this left is made anew."""

_EARLIER = timedelta(days=1)
"""A phone's clock may be behind: certificates hold since yesterday."""

_LETTERS = "abcdefghjkmnpqrstvwxyz23456789"
_OWNER_ONLY = 0o600


@dataclass(frozen=True, slots=True)
class Authority:
    """The authority of a state folder: its certificate and key, and the one name it vouches for."""

    folder: Path
    name: str
    certificate: x509.Certificate
    key: ec.EllipticCurvePrivateKey

    @property
    def der(self) -> bytes:
        """Its certificate, as a device takes it."""
        return self.certificate.public_bytes(serialization.Encoding.DER)

    @property
    def fingerprint(self) -> str:
        """SHA-256 of its certificate, in pairs."""
        return self.certificate.fingerprint(hashes.SHA256()).hex(":").upper()

    @property
    def until(self) -> datetime:
        """Until when it holds."""
        return self.certificate.not_valid_after_utc

    @property
    def leaf_files(self) -> tuple[Path, Path]:
        """Where the server's certificate, with the authority's behind it, and its key are."""
        return self.folder / "server.crt", self.folder / "server.key"

    def renewed(self, addresses: Collection[str]) -> bool:
        """Give the name a certificate for these addresses, unless it has one with a month left; returns whether it was made anew."""
        wanted = _alternatives(self.name, addresses)
        certificate, key = self.leaf_files
        if _holds(certificate, wanted, self.certificate) and key.exists():
            return False
        leaf_key = ec.generate_private_key(ec.SECP256R1())
        leaf = _leaf(self, leaf_key, wanted)
        _write(key, _pem(leaf_key))
        _write(certificate, _chain(leaf, self.certificate))
        return True


def authority(folder: Path) -> Authority:
    """Return the authority of a state folder, made when there is none or when its time is up; with a new one comes a new name.

    Its key is readable by its owner alone and never leaves the folder.
    """
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    folder.chmod(0o700)
    with contextlib.suppress(FileNotFoundError, ValueError):
        key = serialization.load_pem_private_key((folder / "authority.key").read_bytes(), None)
        certificate = x509.load_pem_x509_certificate((folder / "authority.crt").read_bytes())
        name = (folder / "name").read_text().strip()
        lives = certificate.not_valid_after_utc - datetime.now(UTC) > LEAF_LIVES
        if isinstance(key, ec.EllipticCurvePrivateKey) and certificate.public_key() == key.public_key() and lives:
            return Authority(folder, name, certificate, key)
    return _made(folder)


def _made(folder: Path) -> Authority:
    name = f"jinba-{''.join(secrets.choice(_LETTERS) for _ in range(4))}.local"
    key = ec.generate_private_key(ec.SECP256R1())
    subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Jinba on this machine, for {name} only")])
    allowed = [x509.DNSName(name), *(x509.IPAddress(n) for n in PRIVATE)]
    certificate = (
        _begun(subject, subject, key.public_key(), AUTHORITY_LIVES)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_usage(signs_certificates=True), critical=True)
        .add_extension(x509.NameConstraints(permitted_subtrees=allowed, excluded_subtrees=None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    _write(folder / "authority.key", _pem(key))
    _write(folder / "authority.crt", certificate.public_bytes(serialization.Encoding.PEM))
    (folder / "name").write_text(name + "\n")
    return Authority(folder, name, certificate, key)


def _leaf(
    by: Authority, key: ec.EllipticCurvePrivateKey, alternatives: x509.SubjectAlternativeName
) -> x509.Certificate:
    subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, by.name)])
    return (
        _begun(subject, by.certificate.subject, key.public_key(), LEAF_LIVES)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs_certificates=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(alternatives, critical=False)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(by.key.public_key()), critical=False)
        .sign(by.key, hashes.SHA256())
    )


def _begun(
    subject: x509.Name, issuer: x509.Name, key: ec.EllipticCurvePublicKey, lives: timedelta
) -> x509.CertificateBuilder:
    since = datetime.now(UTC) - _EARLIER
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key)
        .serial_number(x509.random_serial_number())
        .not_valid_before(since)
        .not_valid_after(since + lives)
    )


def _usage(*, signs_certificates: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs_certificates,
        key_cert_sign=signs_certificates,
        crl_sign=signs_certificates,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        encipher_only=False,
        decipher_only=False,
    )


def _alternatives(name: str, addresses: Collection[str]) -> x509.SubjectAlternativeName:
    """Return the names a certificate is for: the one name, and those addresses that no other network can route to."""
    numbers = sorted(a for a in map(ipaddress.ip_address, addresses) if any(a in n for n in PRIVATE))
    return x509.SubjectAlternativeName([x509.DNSName(name), *(x509.IPAddress(a) for a in numbers)])


def _holds(file: Path, wanted: x509.SubjectAlternativeName, issuer: x509.Certificate) -> bool:
    try:
        leaf = x509.load_pem_x509_certificate(file.read_bytes())
        leaf.verify_directly_issued_by(issuer)
        found = leaf.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except Exception:
        # Whatever is wrong with it, it is made anew.
        return False
    return found == wanted and leaf.not_valid_after_utc - datetime.now(UTC) > LEAF_RENEWED


def _pem(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _chain(*certificates: x509.Certificate) -> bytes:
    return b"".join(c.public_bytes(serialization.Encoding.PEM) for c in certificates)


def _write(file: Path, content: bytes) -> None:
    """Write a file that its owner alone may read; whole or not at all."""
    draft = file.with_name(file.name + ".part")
    draft.unlink(missing_ok=True)
    with os.fdopen(os.open(draft, os.O_WRONLY | os.O_CREAT | os.O_EXCL, _OWNER_ONLY), "wb") as f:
        f.write(content)
    draft.replace(file)
