"""The machine's own authority: what it vouches for, who can read it, and when it is made anew."""

import socket
import ssl
import stat
import threading
from datetime import UTC, datetime, timedelta
from ipaddress import IPv4Address, IPv4Network
from pathlib import Path

import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import (
    Encoding,
    NoEncryption,
    PrivateFormat,
    load_pem_private_key,
)

from orexis.server.home.addresses import AddressRefusedError, checked, own_addresses
from orexis.server.home.authority import Authority, AuthorityUnusableError

NOW = datetime.now(UTC)
HERE = ["127.0.0.2", "192.168.1.20"]


@pytest.fixture
def authority(tmp_path: Path) -> Authority:
    return Authority(tmp_path / "home")


def trusting(authority: Authority) -> ssl.SSLContext:
    """What a device is that has put the authority among those it trusts."""
    pem = authority.certificate(NOW).public_bytes(Encoding.PEM).decode()
    return ssl.create_default_context(cadata=pem)


def shaken(server: ssl.SSLContext, client: ssl.SSLContext, name: str) -> None:
    """Shakes hands over a pair of sockets. Raises `ssl.SSLError`."""
    ours, theirs = socket.socketpair()

    def serve() -> None:
        try:
            server.wrap_socket(ours, server_side=True).close()
        except OSError:
            ours.close()

    serving = threading.Thread(target=serve)
    serving.start()
    try:
        with client.wrap_socket(theirs, server_hostname=name):
            pass
    finally:
        theirs.close()
        serving.join()


def server_of(certificate: Path, key: Path) -> ssl.SSLContext:
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.load_cert_chain(certificate, key)
    return context


def test_a_device_that_trusts_it_shakes_hands_at_the_addresses_and_no_other(
    authority: Authority,
) -> None:
    files = authority.server_files(HERE, NOW)
    server, client = server_of(files.certificate, files.key), trusting(authority)
    for address in HERE:
        shaken(server, client, address)
    for elsewhere in ("192.168.1.21", "localhost"):
        with pytest.raises(ssl.SSLCertVerificationError):
            shaken(server, client, elsewhere)
    with pytest.raises(ssl.SSLCertVerificationError):
        shaken(server, ssl.create_default_context(), HERE[0])


@pytest.mark.parametrize(
    "name", [x509.DNSName("example.org"), x509.IPAddress(IPv4Address("203.0.113.7"))]
)
def test_its_key_stands_in_for_nothing_outside_of_the_house(
    authority: Authority, tmp_path: Path, name: x509.GeneralName
) -> None:
    files = authority.server_files(HERE, NOW)
    folder = files.key.parent
    stolen = load_pem_private_key((folder / "authority.key").read_bytes(), None)
    assert isinstance(stolen, ec.EllipticCurvePrivateKey)
    key = ec.generate_private_key(ec.SECP256R1())
    forged = (
        x509.CertificateBuilder()
        .subject_name(x509.Name([]))
        .issuer_name(authority.certificate(NOW).subject)
        .public_key(key.public_key())
        .serial_number(1)
        .not_valid_before(NOW - timedelta(days=1))
        .not_valid_after(NOW + timedelta(days=1))
        .add_extension(x509.SubjectAlternativeName([name]), critical=True)
        .sign(stolen, hashes.SHA256())
    )
    path = tmp_path / "forged.pem"
    server_key = load_pem_private_key(files.key.read_bytes(), None)
    assert isinstance(server_key, ec.EllipticCurvePrivateKey)
    path.write_bytes(forged.public_bytes(Encoding.PEM) + _pem(key))
    with pytest.raises(ssl.SSLCertVerificationError, match="permitted subtree violation"):
        shaken(server_of(path, path), trusting(authority), str(name.value))


def _pem(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption())


def test_nobody_else_reads_what_it_keeps(authority: Authority) -> None:
    folder = authority.server_files(HERE, NOW).key.parent
    assert stat.S_IMODE(folder.stat().st_mode) == 0o700
    kept = sorted(folder.iterdir())
    assert [path.name for path in kept] == [
        "authority.key",
        "authority.pem",
        "server.key",
        "server.pem",
    ]
    assert {stat.S_IMODE(path.stat().st_mode) for path in kept} == {0o600}


def test_the_servers_certificate_is_made_anew_a_month_before_its_end_and_for_new_addresses(
    authority: Authority,
) -> None:
    first = authority.server_files(HERE, NOW)
    made = first.certificate.read_bytes()
    assert first.ends_at - NOW > timedelta(days=89)
    assert authority.server_files(HERE[:1], NOW + timedelta(days=59)) == first
    assert first.certificate.read_bytes() == made
    later = authority.server_files(HERE, NOW + timedelta(days=61))
    assert later.ends_at - first.ends_at > timedelta(days=60)
    renewed = later.certificate.read_bytes()
    authority.server_files([*HERE, "10.0.0.9"], NOW + timedelta(days=61))
    assert renewed != later.certificate.read_bytes()


def test_devices_go_on_trusting_it_until_its_last_months(authority: Authority) -> None:
    fingerprint = authority.fingerprint(NOW)
    assert len(fingerprint.split(" ")) == 32
    assert authority.fingerprint(NOW + timedelta(days=3000)) == fingerprint
    assert authority.fingerprint(NOW + timedelta(days=3600)) != fingerprint


@pytest.mark.parametrize("name", ["authority.pem", "authority.key", "server.pem"])
def test_what_cannot_be_read_is_said(authority: Authority, name: str) -> None:
    folder = authority.server_files(HERE, NOW).key.parent
    (folder / name).write_bytes(b"-----BEGIN CERTIFICATE-----\nx")
    with pytest.raises(AuthorityUnusableError, match="Move that folder away"):
        authority.server_files(HERE, NOW)


def test_what_another_authority_signed_is_not_used(authority: Authority, tmp_path: Path) -> None:
    other = Authority(tmp_path / "other").server_files(HERE, NOW)
    mine = authority.server_files(HERE, NOW)
    for theirs, ours in ((other.certificate, mine.certificate), (other.key, mine.key)):
        ours.write_bytes(theirs.read_bytes())
    signed_elsewhere = x509.load_pem_x509_certificate(mine.certificate.read_bytes()).serial_number
    files = authority.server_files(HERE, NOW)
    used = x509.load_pem_x509_certificate(files.certificate.read_bytes())
    used.verify_directly_issued_by(authority.certificate(NOW))
    assert used.serial_number != signed_elsewhere
    shaken(server_of(files.certificate, files.key), trusting(authority), HERE[0])


@pytest.mark.parametrize("address", ["192.168.1.7", "10.1.2.3", "172.31.0.1", "169.254.9.9"])
def test_addresses_of_a_house_are_served(address: str) -> None:
    assert checked(address) == address


@pytest.mark.parametrize(
    "address", ["8.8.8.8", "172.32.0.1", "0.0.0.0", "::1", "home", "", "192.168.1.7:80"]
)
def test_no_others_are(address: str) -> None:
    with pytest.raises(AddressRefusedError):
        checked(address)


def test_the_machines_own_are_none_of_loopback() -> None:
    for address in own_addresses():
        assert IPv4Address(address) not in IPv4Network("127.0.0.0/8")
        assert checked(address) == address
