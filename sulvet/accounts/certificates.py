"""Certificates of this installation's own, for a network in which nobody else gives any.

An authority signs for the names of this computer alone: whoever trusts it on a tablet trusts it
for nothing else (name constraints, RFC 5280, section 4.2.1.10).
"""

from __future__ import annotations

import datetime
import ipaddress
import os
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from sulvet.core import clock

#: Browsers take no server's certificate that is valid for longer (CA/Browser Forum, 398 days);
#: it is made anew so long before its end.
DAYS, ANEW = 397, 30
AUTHORITY_DAYS = 3650
#: Addresses that a router of a home or school gives out (RFC 1918, RFC 3927): with another of
#: them tomorrow the authority that tablets trust still holds.
NETWORKS = ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8")
Key = ec.EllipticCurvePrivateKey


@dataclass(frozen=True)
class Certificates:
    """Files of an installation: the server's certificate and key, and who signed it."""

    server: Path
    key: Path
    authority: Path


def certificates(folder: Path, names: Sequence[str]) -> Certificates:
    """Certificates for some names and addresses of this computer, made where there are none, where
    the names are others, or where they end soon.

    folder  kept for this account alone
    """
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    files = Certificates(folder / "server.crt", folder / "server.key", folder / "authority.crt")
    names = sorted({*names, "localhost", "127.0.0.1"})
    authority_key = folder / "authority.key"
    if not _fits(files.authority, names, of_authority=True) or not authority_key.exists():
        _make_authority(files.authority, authority_key, names)
        files.server.unlink(missing_ok=True)
    if not _fits(files.server, names, of_authority=False) or not files.key.exists():
        _make_server(files, authority_key, names)
    return files


def _fits(file: Path, names: list[str], of_authority: bool) -> bool:
    try:
        found = x509.load_pem_x509_certificate(file.read_bytes())
    except (OSError, ValueError):
        return False
    left = found.not_valid_after_utc - clock.now()
    if left < datetime.timedelta(days=ANEW):
        return False
    if of_authority:
        said = found.extensions.get_extension_for_class(x509.NameConstraints).value
        permitted = {one.value for one in said.permitted_subtrees or ()}
        return {one.value for one in _permitted(names)} <= permitted
    signed = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return {str(one.value) for one in signed} == set(names)


def _permitted(names: Sequence[str]) -> list[x509.GeneralName]:
    """What the authority may sign for."""
    own: list[x509.GeneralName] = [x509.IPAddress(ipaddress.ip_network(n)) for n in NETWORKS]
    for name in names:
        address = _address(name)
        if address is None:
            own.append(x509.DNSName(name))
        elif not any(address in ipaddress.ip_network(n) for n in NETWORKS):
            own.append(x509.IPAddress(ipaddress.ip_network(address)))
    return own


def _address(name: str) -> ipaddress.IPv4Address | ipaddress.IPv6Address | None:
    try:
        return ipaddress.ip_address(name)
    except ValueError:
        return None


def _subject(words: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, words)])


def _begun(subject: x509.Name, issuer: x509.Name, key: Key, days: int) -> x509.CertificateBuilder:
    now = clock.now()
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        # Clocks of a room differ.
        .not_valid_before(now - datetime.timedelta(days=1))
        .not_valid_after(now + datetime.timedelta(days=days))
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
    )


def _make_authority(file: Path, key_file: Path, names: list[str]) -> None:
    key, who = ec.generate_private_key(ec.SECP256R1()), _subject("Sulvet on this computer")
    made = (
        _begun(who, who, key, AUTHORITY_DAYS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(x509.NameConstraints(_permitted(names), None), critical=True)
        .add_extension(_usage(signs=True), critical=True)
        .sign(key, hashes.SHA256())
    )
    _write(key_file, _pem(key))
    _write(file, made.public_bytes(serialization.Encoding.PEM))


def _make_server(files: Certificates, authority_key: Path, names: list[str]) -> None:
    authority = x509.load_pem_x509_certificate(files.authority.read_bytes())
    signer = serialization.load_pem_private_key(authority_key.read_bytes(), None)
    assert isinstance(signer, ec.EllipticCurvePrivateKey)
    key = ec.generate_private_key(ec.SECP256R1())
    said: list[x509.GeneralName] = []
    for name in names:
        address = _address(name)
        said.append(x509.DNSName(name) if address is None else x509.IPAddress(address))
    made = (
        _begun(_subject("Sulvet"), authority.subject, key, DAYS)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.SubjectAlternativeName(said), critical=False)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(_usage(signs=False), critical=True)
        .add_extension(
            x509.AuthorityKeyIdentifier.from_issuer_public_key(signer.public_key()),
            critical=False,
        )
        .sign(signer, hashes.SHA256())
    )
    _write(files.key, _pem(key))
    _write(files.server, made.public_bytes(serialization.Encoding.PEM))


def _usage(signs: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs, content_commitment=False, key_encipherment=False,
        data_encipherment=False, key_agreement=False, key_cert_sign=signs, crl_sign=signs,
        encipher_only=False, decipher_only=False,
    )  # fmt: skip


def _pem(key: Key) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM,
        serialization.PrivateFormat.PKCS8,
        serialization.NoEncryption(),
    )


def _write(file: Path, data: bytes) -> None:
    """Whole or not at all, and for this account alone."""
    half = file.with_suffix(".half")
    half.unlink(missing_ok=True)
    with open(os.open(half, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb") as out:
        out.write(data)
    half.replace(file)
