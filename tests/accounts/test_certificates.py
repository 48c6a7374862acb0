"""Certificates of an installation's own: what they are good for, and that nothing else is."""

from __future__ import annotations

import datetime
import ssl
import tempfile
import threading
from http.client import HTTPSConnection
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path
from unittest import mock

from cryptography import x509
from django.test import SimpleTestCase

from sulvet.accounts import certificates as own


class CertificateTests(SimpleTestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "certificate"

    def test_who_trusts_the_authority_is_let_in_and_nobody_else(self) -> None:
        """OpenSSL, as Python's own client and server use it."""
        files = own.certificates(self.folder, ["school-laptop", "192.0.2.7"])
        self.assertEqual(
            {file.name: oct(file.stat().st_mode & 0o777) for file in self.folder.iterdir()},
            dict.fromkeys(("authority.crt", "authority.key", "server.crt", "server.key"), "0o600"),
        )

        class Answer(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                self.send_response(204)
                self.end_headers()

            def log_message(self, *args: object) -> None:
                pass

        server = HTTPServer(("127.0.0.1", 0), Answer)
        told = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        told.load_cert_chain(files.server, files.key)
        server.socket = told.wrap_socket(server.socket, server_side=True)
        thread = threading.Thread(target=server.serve_forever)
        thread.start()
        self.addCleanup(thread.join)
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)

        def status(trusting: ssl.SSLContext) -> int:
            asked = HTTPSConnection("127.0.0.1", server.server_port, context=trusting, timeout=20)
            asked.request("GET", "/")
            return asked.getresponse().status

        self.assertEqual(status(ssl.create_default_context(cafile=str(files.authority))), 204)
        with self.assertRaises(ssl.SSLCertVerificationError):
            status(ssl.create_default_context())

    def test_it_is_made_anew_for_another_address_and_before_it_ends(self) -> None:
        first = own.certificates(self.folder, ["192.168.1.4"])
        kept = {file: file.read_bytes() for file in self.folder.iterdir()}
        own.certificates(self.folder, ["192.168.1.4"])
        self.assertEqual({file: file.read_bytes() for file in self.folder.iterdir()}, kept)
        # Another address of the same network: tablets go on trusting who signed.
        own.certificates(self.folder, ["192.168.1.9"])
        self.assertEqual(first.authority.read_bytes(), kept[first.authority])
        self.assertNotEqual(first.server.read_bytes(), kept[first.server])
        days = datetime.timedelta(days=own.DAYS)
        server = x509.load_pem_x509_certificate(first.server.read_bytes())
        now = datetime.datetime.now(datetime.UTC)
        self.assertLess(server.not_valid_after_utc, now + days + datetime.timedelta(hours=1))
        last = first.server.read_bytes()
        with mock.patch.object(own, "ANEW", own.DAYS + 1):
            own.certificates(self.folder, ["192.168.1.9"])
        self.assertNotEqual(first.server.read_bytes(), last)

    def test_the_authority_signs_for_nothing_else(self) -> None:
        files = own.certificates(self.folder, ["school-laptop"])
        authority = x509.load_pem_x509_certificate(files.authority.read_bytes())
        limits = authority.extensions.get_extension_for_class(x509.NameConstraints)
        self.assertTrue(limits.critical)
        permitted = limits.value.permitted_subtrees or ()
        names = sorted(one.value for one in permitted if isinstance(one, x509.DNSName))
        self.assertEqual(names, ["localhost", "school-laptop"])
