"""A certificate authority of this machine's own, and the certificate that the server shows.

The authority is made once. Whoever installs it on a tablet trusts it for the addresses and names of a local network and
for no other (name constraints, RFC 5280, 4.2.1.10), so that its key, should it ever get lost, opens nothing on the
internet. The server's certificate is made again when an address is new or its time runs out.
"""

from __future__ import annotations

import ipaddress
import os
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

AUTHORITY_LASTS = timedelta(days=5 * 365)
CERTIFICATE_LASTS = timedelta(days=397)
"""Some systems take no certificate that lasts longer than 398 days."""
RENEWED_BEFORE = timedelta(days=30)
CLOCKS_DIFFER = timedelta(days=2)
"""A tablet whose clock is behind still finds that the certificate has begun."""
LOCAL = ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "100.64.0.0/10", "127.0.0.0/8")
"""Networks that are nobody's on the internet (RFC 1918, 3927, 6598, 1122)."""


@dataclass(frozen=True)
class Certificate:
    """Files of a server's certificate and key, that of the authority behind it, and for what it could not be made."""

    certificate: Path
    key: Path
    authority: Path
    left_out: tuple[str, ...] = ()

    @property
    def fingerprint(self) -> str:
        """By which a person recognises the authority: SHA-256, two digits at a time."""
        return fingerprint_of(_read(self.authority))


def certificate_for(home: Path, addresses: Sequence[str], names: Sequence[str]) -> Certificate:
    """The server's certificate for these addresses and names, made where it is missing, late or for others.

    ``home/authority`` is the authority's and nobody else's to read; ``home/served`` is what the server needs. An
    address of the internet that was not this machine's when the authority was made is ``left_out``.
    """
    authority, authority_key = _authority(home / "authority", addresses, names)
    served = home / "served"
    served.mkdir(parents=True, exist_ok=True)
    wanted = sorted({"127.0.0.1", "localhost", *addresses, *names})
    left_out = tuple(one for one in wanted if not _may_speak_for(authority, one))
    wanted_addresses = [one for one in wanted if _is_address(one) and one not in left_out]
    wanted_names = [one for one in wanted if not _is_address(one) and one not in left_out]
    made = Certificate(served / "server.crt", served / "server.key", served / "authority.crt", left_out)
    made.authority.write_bytes(authority.public_bytes(serialization.Encoding.PEM))
    if not _still_good(made, authority, wanted_addresses, wanted_names):
        key = ec.generate_private_key(ec.SECP256R1())
        _write_key(made.key, key)
        signed = _signed(authority, authority_key, key.public_key(), wanted_addresses, wanted_names)
        made.certificate.write_bytes(signed.public_bytes(serialization.Encoding.PEM))
    return made


def fingerprint_of(certificate: x509.Certificate) -> str:
    """SHA-256 of a certificate, as tablets show it."""
    return certificate.fingerprint(hashes.SHA256()).hex(":").upper()


def _authority(
    home: Path, addresses: Sequence[str], names: Sequence[str]
) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
    certificate_file, key_file = home / "authority.crt", home / "authority.key"
    if certificate_file.exists() and key_file.exists():
        certificate = _read(certificate_file)
        if certificate.not_valid_after_utc - RENEWED_BEFORE > datetime.now(UTC):
            return certificate, _read_key(key_file)
    home.mkdir(parents=True, exist_ok=True)
    home.chmod(0o700)
    key = ec.generate_private_key(ec.SECP256R1())
    certificate = _self_signed(key, addresses, names)
    _write_key(key_file, key)
    certificate_file.write_bytes(certificate.public_bytes(serialization.Encoding.PEM))
    return certificate, key


def _self_signed(key: ec.EllipticCurvePrivateKey, addresses: Sequence[str], names: Sequence[str]) -> x509.Certificate:
    now = datetime.now(UTC)
    machine = names[0] if names else "this machine"
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Even Girder on {machine}"[:64])])
    # Of a school that has addresses of the internet within, those it has now.
    own = [ipaddress.ip_network(at) for at in addresses if not _is_local(at)]
    allowed: list[x509.GeneralName] = [
        *(x509.IPAddress(network) for network in (*map(ipaddress.ip_network, LOCAL), *own)),
        *(x509.DNSName(local) for local in sorted({"localhost", "local", *names})),
    ]
    return (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - CLOCKS_DIFFER)
        .not_valid_after(now + AUTHORITY_LASTS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_usage(signs_certificates=True), critical=True)
        .add_extension(x509.NameConstraints(permitted_subtrees=allowed, excluded_subtrees=None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )


def _signed(
    authority: x509.Certificate,
    authority_key: ec.EllipticCurvePrivateKey,
    public: ec.EllipticCurvePublicKey,
    addresses: Sequence[str],
    names: Sequence[str],
) -> x509.Certificate:
    now = datetime.now(UTC)
    ends = min(now + CERTIFICATE_LASTS, authority.not_valid_after_utc)
    spoken_for: list[x509.GeneralName] = [
        *(x509.IPAddress(ipaddress.ip_address(at)) for at in addresses),
        *(x509.DNSName(name) for name in names),
    ]
    return (
        x509.CertificateBuilder()
        .subject_name(x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Even Girder")]))
        .issuer_name(authority.subject)
        .public_key(public)
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - CLOCKS_DIFFER)
        .not_valid_after(ends)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs_certificates=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.SubjectAlternativeName(spoken_for), critical=False)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(public), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(authority_key.public_key()), critical=False)
        .sign(authority_key, hashes.SHA256())
    )


def _usage(signs_certificates: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs_certificates, key_cert_sign=signs_certificates, crl_sign=signs_certificates,
        content_commitment=False, key_encipherment=False, data_encipherment=False, key_agreement=False,
        encipher_only=False, decipher_only=False,
    )  # fmt: skip


def _still_good(made: Certificate, authority: x509.Certificate, addresses: list[str], names: list[str]) -> bool:
    if not (made.certificate.exists() and made.key.exists()):
        return False
    certificate = _read(made.certificate)
    try:
        certificate.verify_directly_issued_by(authority)
    except Exception:
        return False
    spoken_for = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return (
        certificate.not_valid_after_utc - RENEWED_BEFORE > datetime.now(UTC)
        and sorted(map(str, spoken_for.get_values_for_type(x509.IPAddress))) == addresses
        and sorted(spoken_for.get_values_for_type(x509.DNSName)) == names
    )


def _may_speak_for(authority: x509.Certificate, one: str) -> bool:
    """Whether an address or a name is within what the authority limited itself to."""
    allowed = authority.extensions.get_extension_for_class(x509.NameConstraints).value.permitted_subtrees or []
    if _is_address(one):
        networks = [ipaddress.ip_network(part.value) for part in allowed if isinstance(part, x509.IPAddress)]
        return any(ipaddress.ip_address(one) in network for network in networks)
    domains = [part.value for part in allowed if isinstance(part, x509.DNSName)]
    return any(one == domain or one.endswith(f".{domain}") for domain in domains)


def _is_address(one: str) -> bool:
    try:
        ipaddress.ip_address(one)
    except ValueError:
        return False
    return True


def _is_local(at: str) -> bool:
    return any(ipaddress.ip_address(at) in ipaddress.ip_network(network) for network in LOCAL)


def _read(file: Path) -> x509.Certificate:
    return x509.load_pem_x509_certificate(file.read_bytes())


def _read_key(file: Path) -> ec.EllipticCurvePrivateKey:
    key = serialization.load_pem_private_key(file.read_bytes(), password=None)
    assert isinstance(key, ec.EllipticCurvePrivateKey)
    return key


def _write_key(file: Path, key: ec.EllipticCurvePrivateKey) -> None:
    """Never readable by others, not even for a moment."""
    file.unlink(missing_ok=True)
    with os.fdopen(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
        out.write(
            key.private_bytes(
                serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
            )
        )
