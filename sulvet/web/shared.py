"""``python -m sulvet.web.shared``: Sulvet over HTTPS for the devices of a room.

uvicorn speaks TLS without letting one slow handshake stop the others, and tells Django from which
address a device asks; no header of a device's own is believed.
"""

from __future__ import annotations

import argparse

import uvicorn
from a2wsgi import WSGIMiddleware

#: Requests worked on at once; connections beyond that many are refused.
WORKERS, CONNECTIONS = 8, 400
#: Seconds a connection may stand without a request; bytes of a request's head.
IDLE, HEAD = 30, 2**16


def main() -> None:
    """Serve until told to end."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("--host", required=True)
    words.add_argument("--port", type=int, required=True)
    words.add_argument("--certificate", required=True)
    words.add_argument("--key", required=True)
    given = words.parse_args()
    from sulvet.web.wsgi import application

    uvicorn.run(
        WSGIMiddleware(application, workers=WORKERS),  # type: ignore[arg-type]
        host=given.host, port=given.port, ssl_certfile=given.certificate, ssl_keyfile=given.key,
        proxy_headers=False, server_header=False, access_log=False, log_level="warning",
        lifespan="off", http="h11", timeout_keep_alive=IDLE, limit_concurrency=CONNECTIONS,
        h11_max_incomplete_event_size=HEAD, timeout_graceful_shutdown=3,
    )  # fmt: skip


if __name__ == "__main__":
    main()
