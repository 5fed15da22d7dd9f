"""https by one command: what the school's own certificate vouches for, and what serves it."""

import socket
import ssl
import urllib.error
import urllib.request
from datetime import UTC, datetime, timedelta

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

from ops import certificate
from ops.demo_server import demo_school
from ops.front import Https
from ops.server import App, free_port


def spoken_to(folder, name, *, authority=None):
    """A handshake with a server that shows this certificate, as a client that calls it `name`.
    OpenSSL is the judge, as in the devices."""
    server = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    server.load_cert_chain(folder / "server.crt", folder / "server.key")
    client = ssl.create_default_context(cafile=authority or folder / "authority.crt")
    ends = [ssl.MemoryBIO() for _ in range(2)]
    here = client.wrap_bio(ends[0], ends[1], server_hostname=name)
    there = server.wrap_bio(ends[1], ends[0], server_side=True)
    for _ in range(4):
        for end in (here, there):
            try:
                end.do_handshake()
            except ssl.SSLWantReadError:
                continue
    return here.getpeercert()


def forge(stolen, name, folder):
    """What somebody with the authority's key and a program of their own can write."""
    key = load_pem_private_key((stolen / "authority.key").read_bytes(), None)
    authority = x509.load_pem_x509_certificate((stolen / "authority.crt").read_bytes())
    own = ec.generate_private_key(ec.SECP256R1())
    now = datetime.now(UTC)
    called = x509.Name([x509.NameAttribute(x509.NameOID.COMMON_NAME, name)])
    made = (
        x509.CertificateBuilder(authority.subject, called, own.public_key(), 1)
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=9))
        .add_extension(x509.SubjectAlternativeName([x509.DNSName(name)]), critical=False)
        .sign(key, hashes.SHA256())
    )
    (folder / "server.crt").write_bytes(made.public_bytes(Encoding.PEM))
    (folder / "server.key").write_bytes(
        own.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption())
    )


def test_devices_that_know_the_school_trust_its_names(tmp_path):
    certificate.make(tmp_path, ["edrix.workshop", "192.168.4.1"])
    for name in ("edrix.workshop", "192.168.4.1", "localhost", "127.0.0.1"):
        assert spoken_to(tmp_path, name)["subject"]
    with pytest.raises(ssl.SSLCertVerificationError, match="mismatch"):
        spoken_to(tmp_path, "elsewhere.workshop")


def test_a_device_that_does_not_know_it_refuses(tmp_path):
    certificate.make(tmp_path / "ours", [])
    certificate.make(tmp_path / "other", [])
    with pytest.raises(ssl.SSLCertVerificationError):
        spoken_to(tmp_path / "ours", "localhost", authority=tmp_path / "other" / "authority.crt")


def test_it_vouches_for_nothing_else(tmp_path):
    """Somebody who steals the authority's key cannot be a bank with it: RFC 5280, 4.2.1.10."""
    certificate.make(tmp_path, ["edrix.workshop"])
    forged = tmp_path / "forged"
    forged.mkdir()
    forge(tmp_path, "bank.example", forged)
    with pytest.raises(ssl.SSLCertVerificationError, match="permitted subtree"):
        spoken_to(forged, "bank.example", authority=tmp_path / "authority.crt")


def test_devices_need_it_once(tmp_path):
    """Another start, another address of the same machine: the authority stays as it is."""
    certificate.make(tmp_path, ["edrix.workshop"])
    known = (tmp_path / "authority.crt").read_bytes()
    server = (tmp_path / "server.crt").read_bytes()
    certificate.make(tmp_path, ["edrix.workshop"])
    assert (tmp_path / "server.crt").read_bytes() == server
    certificate.make(tmp_path, ["edrix.workshop", "10.0.0.7"])
    assert (tmp_path / "authority.crt").read_bytes() == known
    assert spoken_to(tmp_path, "10.0.0.7")
    certificate.make(tmp_path, ["another.workshop"])
    assert (tmp_path / "authority.crt").read_bytes() != known
    assert spoken_to(tmp_path, "another.workshop")


def test_keys_are_for_their_owner_only(tmp_path):
    certificate.make(tmp_path, [])
    for name in ("authority.key", "server.key"):
        assert (tmp_path / name).stat().st_mode & 0o077 == 0


def test_an_address_of_the_open_network_is_refused(tmp_path):
    with pytest.raises(ValueError, match=r"203\.0\.113\.9 is an address of the open network"):
        certificate.make(tmp_path, ["203.0.113.9"])


@pytest.fixture(scope="module")
def served(tmp_path_factory, worker_id):
    folder = tmp_path_factory.mktemp("certificate")
    certificate.make(folder, [])
    with demo_school(f"https_{worker_id}") as school:
        environment = {**school.copy(), "EDRIX_HTTPS": "1", "EDRIX_HSTS_S": "0"}
        ports = (free_port("127.0.0.1", 9850), free_port("127.0.0.1", 9900))
        https = Https(folder, ("127.0.0.1", ports[0]))
        with App(environment, ("127.0.0.1", ports[1]), f"https-{worker_id}", https) as app:
            yield app, folder


def test_one_command_serves_https(served):
    app, folder = served
    trusting = ssl.create_default_context(cafile=folder / "authority.crt")
    with urllib.request.urlopen(f"{app.url}/work", context=trusting) as page:  # noqa: S310
        assert page.status == 200
        assert "Strict-Transport-Security" not in page.headers
        assert all("Secure" in one for one in page.headers.get_all("Set-Cookie"))


def test_plain_http_gives_the_certificate_and_leads_on(served):
    app, folder = served
    with urllib.request.urlopen(f"{app.plain_url}/school-certificate.crt") as given:  # noqa: S310
        assert given.read() == (folder / "authority.crt").read_bytes()
        assert given.headers["Content-Type"] == "application/x-x509-ca-cert"
    with urllib.request.urlopen(app.plain_url) as page:  # noqa: S310
        assert "Get the certificate" in page.read().decode()
    host, port = app.plain_url.removeprefix("http://").split(":")
    with socket.create_connection((host, int(port))) as asked:
        asked.sendall(b"GET /work HTTP/1.1\r\nHost: edrix.workshop:8000\r\n\r\n")
        told = asked.recv(2000).decode()
    secure = app.url.rsplit(":", 1)[1]
    assert f"Location: https://edrix.workshop:{secure}/work" in told


def test_keys_are_not_given_out(served):
    app, _ = served
    for name in ("authority.key", "server.key", "../server.key", "index.html/../../nginx.conf"):
        with pytest.raises(urllib.error.URLError):
            urllib.request.urlopen(f"{app.plain_url}/{name}")  # noqa: S310
