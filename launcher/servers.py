"""A queue and an object store for one run: started on this machine, thrown away afterwards."""

from __future__ import annotations

import shutil
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from pathlib import Path

from launcher.serving import die_with_parent
from launcher.shell import PYTHON, Trouble, say

NO_QUEUE = "No Redis is installed here. On Debian: apt-get install redis-server"
#: What the stand-in takes for a key and its secret; any will do.
KEY, SECRET, BUCKET = "sulvet", "sulvet-secret", "clips"
#: How long a server may take until it answers, s.
PATIENCE = 30.0


def free_port() -> int:
    """A port that nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@dataclass(frozen=True)
class Server:
    """One that runs: its address, and how to take it away for a while and bring it back."""

    address: str
    stop: Callable[[], None]
    start: Callable[[], None]


@contextmanager
def queue() -> Iterator[Server]:
    """An empty queue (``redis://…``), for as long as the block runs."""
    program = shutil.which("redis-server") or shutil.which("valkey-server")
    if program is None:
        raise Trouble(NO_QUEUE)
    port = free_port()
    folder = tempfile.mkdtemp(prefix="sulvet-queue-")
    command = [program, "--port", str(port), "--bind", "127.0.0.1", "--save", "", "--dir", folder]
    try:
        with ExitStack() as stack:
            now = stack.enter_context(ExitStack())
            now.enter_context(_running(command, port))
            say(f"queue for this run on port {port}")
            # What stood in it is gone when it comes back.
            yield Server(
                f"redis://127.0.0.1:{port}/0", now.close,
                lambda: now.enter_context(_running(command, port)),
            )  # fmt: skip
    finally:
        shutil.rmtree(folder, ignore_errors=True)


@contextmanager
def object_store() -> Iterator[str]:
    """The address of an empty bucket (``s3://…``): a stand-in that keeps all in memory."""
    port = free_port()
    with _running([str(PYTHON), "-m", "moto.server", "-p", str(port)], port):
        address = f"s3://{KEY}:{SECRET}@127.0.0.1:{port}/{BUCKET}?tls=no"
        made = subprocess.run(
            [str(PYTHON), "-c", MAKE_BUCKET, f"http://127.0.0.1:{port}", KEY, SECRET, BUCKET],
            capture_output=True, text=True,
        )  # fmt: skip
        if made.returncode:
            raise Trouble(f"The object store did not start: {made.stderr.strip()[-500:]}")
        say(f"object store for this run on port {port}")
        yield address


MAKE_BUCKET = """
import sys, boto3
address, key, secret, bucket = sys.argv[1:]
boto3.client("s3", endpoint_url=address, aws_access_key_id=key, aws_secret_access_key=secret,
             region_name="us-east-1").create_bucket(Bucket=bucket)
"""


@contextmanager
def _running(command: list[str], port: int) -> Iterator[None]:
    """A server until the end of the block, from when it answers on."""
    with tempfile.NamedTemporaryFile("w+", prefix="sulvet-log-") as log:
        process = subprocess.Popen(
            command, stdout=log, stderr=subprocess.STDOUT, start_new_session=True,
            preexec_fn=die_with_parent if sys.platform == "linux" else None,
        )  # fmt: skip
        try:
            _wait_for(process, port, Path(log.name))
            yield
        finally:
            process.terminate()
            try:
                process.wait(5)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()


def _wait_for(process: subprocess.Popen[bytes], port: int, log: Path) -> None:
    until = time.monotonic() + PATIENCE
    while time.monotonic() < until:
        if process.poll() is not None:
            break
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return
        time.sleep(0.05)
    raise Trouble(f"A server did not start: {log.read_text(errors='replace')[-500:]}")
