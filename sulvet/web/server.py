"""``python -m sulvet.web.server``: Sulvet over HTTP, or over HTTPS with a certificate.

uvicorn holds a connection without a thread until a request's head is whole, asks Django before a
body has come, and hands the body on as it is read: what is refused is never received. One slow TLS
handshake stops nobody.
"""

from __future__ import annotations

import argparse
import asyncio
import threading
from typing import Any

import uvicorn
from a2wsgi import WSGIMiddleware
from uvicorn.protocols.http.h11_impl import H11Protocol

from sulvet.web.bodies import whole_bodies

#: Requests worked on at once; connections beyond that many are refused.
WORKERS, CONNECTIONS = 8, 400
#: Seconds a connection may stand without a request, or be silent within one; bytes of its head.
IDLE, SILENT, HEAD = 30, 30, 2**16


class Patient(H11Protocol):
    """A connection that is closed when half a request is followed by silence."""

    silent: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Wait for its first request."""
        super().connection_made(transport)
        self._wait()

    def data_received(self, data: bytes) -> None:
        """More of a request: wait for the rest, if it is not whole."""
        super().data_received(data)
        self._wait()

    def connection_lost(self, exc: Exception | None) -> None:
        """Nothing to wait for."""
        self._stop()
        super().connection_lost(exc)

    def _wait(self) -> None:
        self._stop()
        self.silent = self.loop.call_later(SILENT, self._given_up)

    def _stop(self) -> None:
        if self.silent is not None:
            self.silent.cancel()

    def _given_up(self) -> None:
        if self.cycle is not None and self.cycle.response_complete:
            return  # between two requests: uvicorn's own timer runs
        if self.cycle is not None and (not self.cycle.more_body or self.flow.read_paused):
            self._wait()  # it is we who are at work, or have not read yet what has come
        else:
            self.transport.close()


def main() -> None:
    """Serve until told to end."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("--host", required=True)
    words.add_argument("--port", type=int, required=True)
    words.add_argument("--certificate", help="with --key: HTTPS")
    words.add_argument("--key")
    words.add_argument("--proxy", help="from which address alone X-Forwarded-For is believed")
    given = words.parse_args()
    from sulvet.web.wsgi import application

    _tidy()
    proxy: dict[str, Any] = {"proxy_headers": False}
    if given.proxy:
        proxy = {"proxy_headers": True, "forwarded_allow_ips": given.proxy}
    uvicorn.run(
        WSGIMiddleware(whole_bodies(application), workers=WORKERS),  # type: ignore[arg-type]
        host=given.host, port=given.port, ssl_certfile=given.certificate, ssl_keyfile=given.key,
        server_header=False, access_log=False, log_level="error", lifespan="off", ws="none",
        http=Patient, timeout_keep_alive=IDLE, limit_concurrency=CONNECTIONS,
        h11_max_incomplete_event_size=HEAD, timeout_graceful_shutdown=3, **proxy,
    )  # fmt: skip


def _tidy() -> None:
    """Of servers each has a folder of its own, which nobody else looks after."""
    from sulvet.takes import storage
    from sulvet.takes.worker import tidy_for_ever

    if storage.shared() is not None:
        threading.Thread(target=tidy_for_ever, daemon=True).start()


if __name__ == "__main__":
    main()
