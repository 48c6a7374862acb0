"""Another Sulvet, reached as its pages are: logged in, an archive sent there or fetched from there.

What was broken off goes on where it was: the other side says which pieces it has, and of a file
that is fetched the rest is asked for.
"""

from __future__ import annotations

import hashlib
import http.cookiejar
import json
import ssl
import urllib.error
import urllib.parse
import urllib.request
import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

from sulvet.accounts.errors import CodeWanted
from sulvet.records import moving
from sulvet.takes.pieces import LARGEST

#: Pieces of one archive are sent under this name, made of what is in it.
SPACE = uuid.UUID("6b1f0d3e-3f0a-5c43-9d3c-2a6c2f1d8e10")
#: How long an answer may take, s: a district may write or read gigabytes before it comes.
PATIENCE = 3600.0
JSON, BYTES = "application/json", "application/octet-stream"
#: Told with the bytes that are there and all bytes.
Progress = Callable[[int, int], None]


class Trouble(Exception):
    """It did not work; the message says what to do. What was sent or fetched is kept."""


class CodeMissing(Trouble):
    """The account has a second factor, and no code or a wrong one was sent."""


class Elsewhere:
    """One account there."""

    def __init__(self, address: str, authority: Path | None = None) -> None:
        """address    such as ``https://band.district.example``
        authority  a certificate (PEM) that its own is signed with, where no known one did

        Trouble for an address without HTTPS that is not this computer's.
        """
        self.address = address.rstrip("/")
        parts = urllib.parse.urlsplit(self.address)
        own = parts.scheme == "http" and parts.hostname in ("127.0.0.1", "localhost", "::1")
        if parts.scheme != "https" and not own:
            raise Trouble("Names and pictures of children need https:// in the address.")
        context = ssl.create_default_context(cafile=str(authority) if authority else None)
        self.cookies = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(
            urllib.request.HTTPCookieProcessor(self.cookies),
            urllib.request.HTTPSHandler(context=context),
        )

    def log_in(self, name: str, password: str, code: str = "") -> None:
        """As on the page; CodeMissing where a second factor is asked for."""
        # The page brings the token that every change has to carry.
        self._asked("GET", "/")
        body = {"username": name, "password": password, "code": code}
        self._asked("POST", "/api/session/", json.dumps(body).encode(), JSON)

    def log_out(self) -> None:
        """No session stays there."""
        self._asked("DELETE", "/api/session/")

    def send(self, path: Path, without_consent: bool, told: Progress) -> dict[str, Any]:
        """Send an archive and have it taken in there; how many students, takes and files."""
        digest, size = moving.digest_of(path), path.stat().st_size
        count = -(-size // LARGEST)
        at = f"/api/archive/coming/{uuid.uuid5(SPACE, digest)}/"
        wanted = self._json("GET", f"{at}of/{count}/")["missing"]
        with path.open("rb") as file:
            for done, number in enumerate(wanted):
                told((count - len(wanted) + done) * LARGEST, size)
                file.seek(number * LARGEST)
                piece = file.read(LARGEST)
                own = {"X-Digest": hashlib.sha256(piece).hexdigest()}
                self._asked("PUT", f"{at}{number}/", piece, BYTES, own)
        told(size, size)
        body = {"pieces": count, "digest": digest, "without_consent": without_consent}
        return self._json("POST", at, body)

    def write_out(self) -> dict[str, Any]:
        """Have everything of the account written out there: its number, bytes and SHA-256."""
        return self._json("POST", "/api/archive/out/")

    def fetch(self, made: dict[str, Any], path: Path, told: Progress) -> None:
        """Fetch what was written out, the rest of it where a part is there already.

        Trouble where it is not there any more or came damaged; then nothing of it is kept.
        """
        at, size = f"/api/archive/out/{made['number']}.zip", int(made["bytes"])
        with path.open("ab") as file:
            while (have := file.tell()) < size:
                told(have, size)
                piece = self._asked("GET", at, headers={"Range": f"bytes={have}-"})
                file.write(piece)
        told(size, size)
        if moving.digest_of(path) != made["digest"]:
            path.unlink()
            raise Trouble("The archive came damaged. Try again: it is fetched anew.")

    def drop(self, made: dict[str, Any]) -> None:
        """It need not be kept there any longer."""
        self._asked("DELETE", f"/api/archive/out/{made['number']}.zip")

    def _json(self, method: str, path: str, body: Any = None) -> dict[str, Any]:
        data = None if body is None else json.dumps(body).encode()
        found: dict[str, Any] = json.loads(self._asked(method, path, data, JSON))
        return found

    def _asked(
        self, method: str, path: str, data: bytes | None = None, kind: str = "",
        headers: dict[str, str] | None = None,
    ) -> bytes:  # fmt: skip
        # Only http and https pass the look at the address above.
        asked = urllib.request.Request(self.address + path, data, method=method)  # noqa: S310
        token = next((one.value for one in self.cookies if one.name == "csrftoken"), "") or ""
        own = {"X-CSRFToken": token, "Referer": f"{self.address}/", **(headers or {})}
        if kind:
            own["Content-Type"] = kind
        for name, value in own.items():
            asked.add_header(name, value)
        try:
            with self.opener.open(asked, timeout=PATIENCE) as answer:
                found: bytes = answer.read()
                return found
        except urllib.error.HTTPError as error:
            raise _refusal(error) from error
        except OSError as error:
            reason = getattr(error, "reason", error)
            raise Trouble(
                f"{self.address} does not answer ({reason}). What went over is kept: try again."
            ) from error


def _refusal(error: urllib.error.HTTPError) -> Trouble:
    """What the other side says, in its own words."""
    try:
        said = json.loads(error.read())
        wanted = said.get("code") == CodeWanted.default_code
        return (CodeMissing if wanted else Trouble)(str(said.get("detail") or said))
    except (ValueError, AttributeError):
        return Trouble(f"The other Sulvet answers {error.code}. Is the address right?")
