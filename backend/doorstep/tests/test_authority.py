"""The certificates, as others judge them: OpenSSL's own handshake and its command line."""

from __future__ import annotations

import ipaddress
import ssl
import stat
import subprocess
import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec

from doorstep.authority import AUTHORITY_LASTS, Certificate, certificate_for

ADDRESS, NAME = "192.168.7.20", "workbench"


def shaken_hands(certificate: Path, key: Path, authority: Path, asked: str) -> None:
    """A whole handshake in memory; raises what a client that trusts this authority alone would raise."""
    server_side = ssl.create_default_context(ssl.Purpose.CLIENT_AUTH)
    server_side.load_cert_chain(certificate, key)
    client_side = ssl.create_default_context(cafile=str(authority))
    # As newer versions of Python do by themselves, and other systems always did.
    client_side.verify_flags |= ssl.VERIFY_X509_STRICT
    to_server, to_client = ssl.MemoryBIO(), ssl.MemoryBIO()
    client = client_side.wrap_bio(to_client, to_server, server_hostname=asked)
    server = server_side.wrap_bio(to_server, to_client, server_side=True)
    waiting = [client, server]
    for _ in range(10):
        for side in list(waiting):
            try:
                side.do_handshake()
                waiting.remove(side)
            except ssl.SSLWantReadError:
                pass
        if not waiting:
            return
    raise AssertionError("the handshake came to no end")


class Authority(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        self.home = Path(self.folder.name)

    def made(self, *addresses: str) -> Certificate:
        return certificate_for(self.home, addresses or (ADDRESS,), (NAME, f"{NAME}.local"))

    def trusted_as(self, made: Certificate, asked: str) -> bool:
        try:
            shaken_hands(made.certificate, made.key, made.authority, asked)
        except ssl.SSLCertVerificationError:
            return False
        return True

    def test_who_trusts_it_reaches_the_server_by_all_its_addresses_and_no_other(self) -> None:
        made = self.made()
        for asked in (ADDRESS, "127.0.0.1", "localhost", NAME, f"{NAME}.local"):
            self.assertTrue(self.trusted_as(made, asked), asked)
        for asked in ("192.168.7.21", "other.local", "example.org"):
            self.assertFalse(self.trusted_as(made, asked), asked)

    def test_openssl_finds_nothing_to_say_against_it(self) -> None:
        made = self.made()
        command = ["openssl", "verify", "-x509_strict", "-purpose", "sslserver", "-verify_ip", ADDRESS]
        said = subprocess.run(
            [*command, "-CAfile", str(made.authority), str(made.certificate)], capture_output=True, text=True
        )
        self.assertEqual(said.returncode, 0, said.stderr)
        printed = subprocess.run(
            ["openssl", "x509", "-in", str(made.authority), "-noout", "-fingerprint", "-sha256"],
            capture_output=True, text=True,
        )  # fmt: skip
        self.assertEqual(printed.stdout.strip().partition("=")[2], made.fingerprint)

    def test_who_steals_its_key_can_pass_for_no_other_site(self) -> None:
        made = self.made()
        key_file = self.home / "authority" / "authority.key"
        stolen = serialization.load_pem_private_key(key_file.read_bytes(), password=None)
        assert isinstance(stolen, ec.EllipticCurvePrivateKey)
        authority = x509.load_pem_x509_certificate(made.authority.read_bytes())
        forged_key = ec.generate_private_key(ec.SECP256R1())
        file, forged = self.home / "forged.key", self.home / "forged.crt"
        file.write_bytes(
            forged_key.private_bytes(
                serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
            )
        )
        names: list[tuple[str, x509.GeneralName, bool]] = [
            ("example.org", x509.DNSName("example.org"), False),
            ("203.0.113.9", x509.IPAddress(ipaddress.ip_address("203.0.113.9")), False),
            # Within the network of the school it can, which is why the key is nobody's to read.
            ("192.168.7.99", x509.IPAddress(ipaddress.ip_address("192.168.7.99")), True),
        ]
        now = datetime.now(UTC)
        for asked, name, passes in names:
            signed = (
                x509.CertificateBuilder()
                .subject_name(x509.Name([]))
                .issuer_name(authority.subject)
                .public_key(forged_key.public_key())
                .serial_number(x509.random_serial_number())
                .not_valid_before(now - timedelta(days=1))
                .not_valid_after(now + timedelta(days=1))
                .add_extension(x509.SubjectAlternativeName([name]), critical=True)
                .add_extension(x509.SubjectKeyIdentifier.from_public_key(forged_key.public_key()), critical=False)
                .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(stolen.public_key()), critical=False)
                .sign(stolen, hashes.SHA256())
            )
            forged.write_bytes(signed.public_bytes(serialization.Encoding.PEM))
            with self.subTest(asked):
                trusted = self.trusted_as(Certificate(forged, file, made.authority), asked)
                self.assertEqual(trusted, passes)

    def test_keys_are_nobody_elses_to_read(self) -> None:
        made = self.made()
        for key in (made.key, self.home / "authority" / "authority.key"):
            self.assertEqual(stat.S_IMODE(key.stat().st_mode), 0o600, key)
        self.assertEqual(stat.S_IMODE((self.home / "authority").stat().st_mode), 0o700)

    def test_the_authority_stays_and_the_certificate_follows_the_addresses(self) -> None:
        first = self.made()
        authority, certificate = first.authority.read_bytes(), first.certificate.read_bytes()
        self.assertEqual(self.made().certificate.read_bytes(), certificate, "nothing changed")
        moved = self.made("10.4.0.9")
        self.assertEqual(moved.authority.read_bytes(), authority, "tablets that trust it go on trusting it")
        self.assertTrue(self.trusted_as(moved, "10.4.0.9"))
        self.assertFalse(self.trusted_as(moved, ADDRESS))

    def test_an_address_of_the_internet_is_covered_if_it_was_there_from_the_beginning(self) -> None:
        # RFC 5737 keeps these for examples; they are in no network that is everybody's.
        made = self.made("203.0.113.9")
        self.assertEqual(made.left_out, ())
        self.assertTrue(self.trusted_as(made, "203.0.113.9"))
        later = self.made("198.51.100.4", ADDRESS)
        self.assertEqual(later.left_out, ("198.51.100.4",))
        self.assertTrue(self.trusted_as(later, ADDRESS))
        self.assertFalse(self.trusted_as(later, "198.51.100.4"))

    def test_it_is_as_long_good_as_tablets_take(self) -> None:
        made = self.made()
        certificate = x509.load_pem_x509_certificate(made.certificate.read_bytes())
        # Apple, "Requirements for trusted certificates": 825 days for an authority of one's own, 398 for a public one.
        lasts = certificate.not_valid_after_utc - certificate.not_valid_before_utc
        self.assertLess(lasts, timedelta(days=825))
        self.assertGreater(certificate.not_valid_after_utc, datetime.now(UTC) + timedelta(days=300))
        authority = x509.load_pem_x509_certificate(made.authority.read_bytes())
        self.assertGreater(authority.not_valid_after_utc, datetime.now(UTC) + AUTHORITY_LASTS - timedelta(days=1))

    def test_a_certificate_that_was_damaged_is_made_again(self) -> None:
        made = self.made()
        other = certificate_for(self.home / "other", (ADDRESS,), ())
        made.certificate.write_bytes(other.certificate.read_bytes())
        made.key.write_bytes(other.key.read_bytes())
        self.assertFalse(self.trusted_as(made, ADDRESS))
        self.assertTrue(self.trusted_as(self.made(), ADDRESS))
