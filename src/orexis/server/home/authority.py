"""The certificate authority of one machine, made on it, and the certificate of its server.

The authority may vouch for addresses within a house only (RFC 5280, name constraints): a stolen
key cannot stand in for any site of the internet.
"""

import os
import socket
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime, timedelta
from ipaddress import IPv4Address
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import (
    Encoding,
    NoEncryption,
    PrivateFormat,
    load_pem_private_key,
)
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from orexis.server.home.addresses import HOME_NETWORKS

_AUTHORITY_DAYS, _SERVER_DAYS = 3650, 90
RENEWED_BEFORE = timedelta(days=30)
_CLOCKS_DIFFER = timedelta(days=1)
_NO_NAMES = "home.arpa"
"""The one domain a name would have to be in: that of houses (RFC 8375). None is used."""


class AuthorityUnusableError(Exception):
    """What was kept of the authority cannot be used; the message says what to do."""


@dataclass(frozen=True, slots=True)
class ServerFiles:
    """Where the server's certificate and key are, and until when they hold."""

    certificate: Path
    key: Path
    ends_at: datetime


class Authority:
    """The authority in a folder, made when it is first used."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    def certificate(self, now: datetime) -> x509.Certificate:
        """The authority's own certificate. Raises `AuthorityUnusableError` and `OSError`."""
        return self._authority(now)[0]

    def fingerprint(self, now: datetime) -> str:
        """The SHA-256 of that certificate as devices show it: pairs of hexadecimal digits."""
        return self.certificate(now).fingerprint(hashes.SHA256()).hex(" ").upper()

    def server_files(self, addresses: Sequence[str], now: datetime) -> ServerFiles:
        """A certificate for some addresses that holds for a month at least; it is made anew where
        the one at hand does not. Raises as `certificate`."""
        paths = self._folder / "server.pem", self._folder / "server.key"
        with self._readable():
            ends_at = self._holds_until(paths[0], addresses, now)
        if ends_at is None:
            ends_at = self._make_server(paths, addresses, now)
        return ServerFiles(*paths, ends_at)

    def _authority(self, now: datetime) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
        certificate_path, key_path = self._folder / "authority.pem", self._folder / "authority.key"
        if not certificate_path.exists() or not key_path.exists():
            return self._make_authority(certificate_path, key_path, now)
        with self._readable():
            certificate = x509.load_pem_x509_certificate(certificate_path.read_bytes())
            key = load_pem_private_key(key_path.read_bytes(), None)
            if not isinstance(key, ec.EllipticCurvePrivateKey):
                raise ValueError("not a key of ours")
        if certificate.not_valid_after_utc - now < timedelta(days=_SERVER_DAYS):
            return self._make_authority(certificate_path, key_path, now)
        return certificate, key

    @contextmanager
    def _readable(self) -> Iterator[None]:
        try:
            yield
        except (ValueError, TypeError) as error:
            raise AuthorityUnusableError(
                f"The certificates in {self._folder} cannot be read. Move that folder away, then "
                "start again; devices have to trust a new certificate then."
            ) from error

    def _make_authority(
        self, certificate_path: Path, key_path: Path, now: datetime
    ) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
        key = ec.generate_private_key(ec.SECP256R1())
        name = _named(f"Orexis on {socket.gethostname()}"[:64])
        within = [*map(x509.IPAddress, HOME_NETWORKS), x509.DNSName(_NO_NAMES)]
        certificate = (
            _begun(name, name, key.public_key(), now, _AUTHORITY_DAYS)
            .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
            .add_extension(_usage(signs=True), critical=True)
            .add_extension(x509.NameConstraints(within, None), critical=True)
            .sign(key, hashes.SHA256())
        )
        _write(key_path, _pem_of(key))
        _write(certificate_path, certificate.public_bytes(Encoding.PEM))
        return certificate, key

    def _holds_until(self, path: Path, addresses: Sequence[str], now: datetime) -> datetime | None:
        """Until when the server's certificate holds, where it need not be made anew."""
        if not path.exists():
            return None
        certificate = x509.load_pem_x509_certificate(path.read_bytes())
        names = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        ends_at = certificate.not_valid_after_utc
        served = {str(one) for one in names.get_values_for_type(x509.IPAddress)}
        authority = self.certificate(now)
        if certificate.issuer != authority.subject or not served.issuperset(addresses):
            return None
        try:
            certificate.verify_directly_issued_by(authority)
        except Exception:
            return None
        return ends_at if ends_at - now > RENEWED_BEFORE else None

    def _make_server(
        self, paths: tuple[Path, Path], addresses: Sequence[str], now: datetime
    ) -> datetime:
        authority, authority_key = self._authority(now)
        key = ec.generate_private_key(ec.SECP256R1())
        names = [x509.IPAddress(IPv4Address(address)) for address in addresses]
        usage = x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH])
        certificate = (
            _begun(_named("Orexis"), authority.subject, key.public_key(), now, _SERVER_DAYS)
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(_usage(signs=False), critical=True)
            .add_extension(usage, critical=False)
            .add_extension(x509.SubjectAlternativeName(names), critical=False)
            .sign(authority_key, hashes.SHA256())
        )
        _write(paths[1], _pem_of(key))
        _write(paths[0], certificate.public_bytes(Encoding.PEM))
        return certificate.not_valid_after_utc


def _named(name: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)])


def _begun(
    subject: x509.Name,
    issuer: x509.Name,
    key: ec.EllipticCurvePublicKey,
    now: datetime,
    days: int,
) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key)
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - _CLOCKS_DIFFER)
        .not_valid_after(now + timedelta(days=days))
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key), critical=False)
    )


def _usage(*, signs: bool) -> x509.KeyUsage:
    """What a key is for: signing certificates, or shaking hands."""
    return x509.KeyUsage(
        digital_signature=not signs,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        key_cert_sign=signs,
        crl_sign=signs,
        encipher_only=False,
        decipher_only=False,
    )


def _pem_of(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption())


def _write(path: Path, content: bytes) -> None:
    """Writes a file whole or not at all, for its owner's eyes only."""
    path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    part = path.with_name(f".{path.name}.part")
    part.unlink(missing_ok=True)
    number = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(number, "wb") as file:
        file.write(content)
        file.flush()
        os.fsync(file.fileno())
    part.replace(path)
