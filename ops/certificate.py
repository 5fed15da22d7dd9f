"""The school's own certificate authority, and the certificate of its server.

`python -m ops.certificate FOLDER NAME…` makes what is missing there or no longer serves. The
authority may vouch for the school's own names and for private addresses only (RFC 5280, 4.2.1.10):
a device that trusts it trusts nothing else by it. Keys are readable by their owner alone.
"""

import ipaddress
import sys
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

AUTHORITY_DAYS = 3650
SERVER_DAYS = 397
"""Common practice of browsers: they refuse a server's certificate that is valid for longer."""
RENEWED_DAYS = 30
"""With so little left it is made anew at the next start."""
HERE = ("localhost", "127.0.0.1")
PRIVATE = ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "127.0.0.0/8", "169.254.0.0/16")
"""Addresses within one house (RFC 1918, RFC 3927) and the machine itself."""

Key = ec.EllipticCurvePrivateKey


def make(folder: Path, hosts: Sequence[str]) -> None:
    """Files `authority.crt`, `server.crt` and their keys. hosts: names and addresses that devices
    call this machine. Raises ValueError for an address outside the house."""
    names = _names([*hosts, *HERE])
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    key, authority = _authority(folder, names)
    server = folder / "server.crt"
    if _serves(server, authority, names):
        return
    own = ec.generate_private_key(ec.SECP256R1())
    made = (
        _builder(_called("Edrix server"), own, SERVER_DAYS)
        .issuer_name(authority.subject)
        .add_extension(x509.SubjectAlternativeName(names), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(
            x509.AuthorityKeyIdentifier.from_issuer_public_key(key.public_key()), critical=False
        )
        .sign(key, hashes.SHA256())
    )
    _keep(folder / "server.key", _private(own))
    _keep(server, made.public_bytes(serialization.Encoding.PEM))


def _names(hosts: Sequence[str]) -> list[x509.GeneralName]:
    """Each once. `[::1]` is how settings write an address of six."""
    return [_name(host) for host in dict.fromkeys(host.strip("[]") for host in hosts if host)]


def _name(host: str) -> x509.GeneralName:
    try:
        address = ipaddress.ip_address(host)
    except ValueError:
        return x509.DNSName(host)
    if not any(address in ipaddress.ip_network(one) for one in PRIVATE) and not (
        address.is_loopback or address.is_link_local
    ):
        raise ValueError(
            f"{host} is an address of the open network; a school's own certificate is for names "
            "and addresses within the house. Use a certificate that everybody trusts there"
        )
    return x509.IPAddress(address)


def _authority(folder: Path, names: list[x509.GeneralName]) -> tuple[Key, x509.Certificate]:
    """The one that devices know already, as long as it may vouch for all of these names."""
    crt, kept = folder / "authority.crt", folder / "authority.key"
    if crt.exists() and kept.exists():
        key = serialization.load_pem_private_key(kept.read_bytes(), None)
        found = x509.load_pem_x509_certificate(crt.read_bytes())
        limits = found.extensions.get_extension_for_class(x509.NameConstraints).value
        may = limits.permitted_subtrees or []
        covered = all(name in may for name in names if isinstance(name, x509.DNSName))
        if isinstance(key, Key) and covered and _days_left(found) > SERVER_DAYS:
            return key, found
    key = ec.generate_private_key(ec.SECP256R1())
    permitted = [name for name in names if isinstance(name, x509.DNSName)]
    houses = [x509.IPAddress(ipaddress.ip_network(one)) for one in (*PRIVATE, "::1/128")]
    made = (
        _builder(_called("Edrix, this school's own"), key, AUTHORITY_DAYS)
        .issuer_name(_called("Edrix, this school's own"))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(x509.NameConstraints([*permitted, *houses], None), critical=True)
        .add_extension(_signs_only(), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    _keep(kept, _private(key))
    _keep(crt, made.public_bytes(serialization.Encoding.PEM))
    return key, made


def _serves(file: Path, authority: x509.Certificate, names: list[x509.GeneralName]) -> bool:
    if not file.exists():
        return False
    found = x509.load_pem_x509_certificate(file.read_bytes())
    told = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    try:
        found.verify_directly_issued_by(authority)
    except (ValueError, TypeError, InvalidSignature):
        return False
    return set(told) == set(names) and _days_left(found) > RENEWED_DAYS


def _days_left(found: x509.Certificate) -> int:
    return (found.not_valid_after_utc - datetime.now(UTC)).days


def _builder(subject: x509.Name, key: Key, days: int) -> x509.CertificateBuilder:
    now = datetime.now(UTC)
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        # A tablet's clock may be a little behind.
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=days - 1))
    )


def _called(name: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)])


def _signs_only() -> x509.KeyUsage:
    unused = (
        *("digital_signature", "content_commitment", "key_encipherment", "data_encipherment"),
        *("key_agreement", "encipher_only", "decipher_only"),
    )
    return x509.KeyUsage(key_cert_sign=True, crl_sign=True, **dict.fromkeys(unused, False))


def _private(key: Key) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM,
        serialization.PrivateFormat.PKCS8,
        serialization.NoEncryption(),
    )


def _keep(file: Path, content: bytes) -> None:
    """Whole or not at all: a start that was killed leaves no half of one."""
    part = file.with_suffix(".part")
    part.touch(mode=0o600)
    part.write_bytes(content)
    part.replace(file)


if __name__ == "__main__":
    try:
        make(Path(sys.argv[1]), sys.argv[2:])
    except ValueError as refusal:
        sys.exit(str(refusal))
