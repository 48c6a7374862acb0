"""Server and worker: started, watched, and ended together."""

from __future__ import annotations

import argparse
import contextlib
import ctypes
import ipaddress
import os
import signal
import socket
import ssl
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

from launcher.shell import PYTHON, ROOT, Trouble, say

#: The host that means all addresses of this computer.
EVERYWHERE = "0.0.0.0"  # noqa: S104
#: Linux: a signal when the parent ends (prctl(2)); and how often a minute a server that stops is
#: started again.
PR_SET_PDEATHSIG, MOST_RESTARTS = 1, 5


def port_free(host: str, port: int) -> bool:
    """Whether nothing listens there."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            return False
    return True


def die_with_parent() -> None:
    """In a child: end when what started it ends, however that happens (Linux)."""
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGTERM)


def local_hosts(host: str) -> list[str]:
    """The names by which a browser may ask for a server that listens on this host."""
    if ipaddress.ip_address(socket.gethostbyname(host)).is_loopback:
        return []
    own = socket.gethostname()
    if host != EVERYWHERE:
        return [host, own]
    return [own, f"{own}.local", _seen_address()]


def _seen_address() -> str:
    """The address of this computer that others see; 0.0.0.0 where there is no network."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        with contextlib.suppress(OSError):
            # Nothing is sent: 192.0.2.1 is nobody's (RFC 5737).
            probe.connect(("192.0.2.1", 9))
        return str(probe.getsockname()[0])


def room_address() -> str:
    """The address under which devices of the room find this computer."""
    found = _seen_address()
    if found == EVERYWHERE:
        raise Trouble("This computer is in no network. Join the school's Wi-Fi, then try again.")
    return found


def serve(
    data: Path, options: argparse.Namespace, environment: dict[str, str], words: list[str]
) -> None:
    """Server and worker until Ctrl-C; what dies of them is started again."""
    environment = {**os.environ, **environment, "SULVET_DATA": str(data)}
    host, port = options.host, options.port
    room = getattr(options, "certificate", None)
    serving = ["-m", "sulvet.web.server", f"--host={host}", f"--port={port}"]
    if room:
        serving += [f"--certificate={room}/server.crt", f"--key={room}/server.key"]
    elif options.share:
        serving += [f"--proxy={options.proxy}"]

    def begin(*command: str) -> subprocess.Popen[bytes]:
        # A group of their own: Ctrl-C reaches us alone, and we end them in order.
        return subprocess.Popen(
            [str(PYTHON), *command], cwd=ROOT, env=environment, start_new_session=True,
            preexec_fn=die_with_parent if sys.platform == "linux" else None,
        )  # fmt: skip

    signal.signal(signal.SIGTERM, lambda *_: (_ for _ in ()).throw(KeyboardInterrupt()))
    server, ended = begin(*serving), list[float]()
    worker = begin("manage.py", "work")
    try:
        wait_until_it_answers(host, port, server, "https" if room else "http")
        print("\n".join(words), flush=True)
        while True:
            if server.poll() is not None:
                ended = [one for one in ended if one > time.monotonic() - 60] + [time.monotonic()]
                if len(ended) > MOST_RESTARTS:
                    raise Trouble("The server stops again and again; its last lines say why.")
                say("the server stopped; starting it again")
                server = begin(*serving)
            if worker.poll() is not None:
                say("the worker stopped; starting it again")
                worker = begin("manage.py", "work")
            time.sleep(0.5)
    except KeyboardInterrupt:
        print("\nEnding.", flush=True)
    finally:
        for process in (worker, server):
            process.terminate()
        for process in (worker, server):
            try:
                process.wait(5)
            except subprocess.TimeoutExpired:
                process.kill()


def wait_until_it_answers(
    host: str, port: int, server: subprocess.Popen[bytes], scheme: str
) -> None:
    """Until the first page comes, at most a minute."""
    host = "127.0.0.1" if host == EVERYWHERE else host
    # Only whether it answers is asked, of this very computer: its certificate is our own.
    anybody = ssl.create_default_context()
    anybody.check_hostname, anybody.verify_mode = False, ssl.CERT_NONE
    for _ in range(240):
        if server.poll() is not None:
            raise Trouble("The server did not start; its last lines above say why.")
        try:
            address = f"{scheme}://{host}:{port}/health/"
            with urllib.request.urlopen(address, timeout=2, context=anybody):  # noqa: S310
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.25)
    raise Trouble("The server did not answer within a minute.")


def keep_private(data: Path) -> None:
    """The data folder, open to nobody else on this computer."""
    os.umask(0o077)
    data.mkdir(parents=True, exist_ok=True)
    if os.name == "nt" or not data.stat().st_mode & 0o077:
        return
    try:
        data.chmod(0o700)
    except OSError:
        raise Trouble(
            f"Every account of this computer can read {data}. Close it (chmod 700), or choose "
            "another folder with --data."
        ) from None
    say(f"closed {data} to other accounts of this computer")
