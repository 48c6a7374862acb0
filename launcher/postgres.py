"""A PostgreSQL of its own for one run: started on this machine, thrown away afterwards."""

from __future__ import annotations

import os
import pwd
import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from launcher.servers import Server, free_port
from launcher.shell import Trouble, say

MISSING = "PostgreSQL is not installed here. On Debian: apt-get install postgresql"
#: It refuses to run as root; Debian's package brings this account.
ACCOUNT = "postgres"
#: What a database that is thrown away need not do: outlive a power cut.
CARELESS = "-c fsync=off -c synchronous_commit=off -c full_page_writes=off"


@dataclass(frozen=True)
class Database(Server):
    """One with PostgreSQL's own programs beside it."""

    port: int

    def run(
        self,
        program: str,
        *words: str,
        given: IO[bytes] | None = None,
        out: IO[bytes] | None = None,
    ) -> None:
        """Such as ``pg_dump``, on the one database there is; bytes from and to files."""
        where = ("--host=127.0.0.1", f"--port={self.port}", f"--username={ACCOUNT}",
                 f"--dbname={ACCOUNT}")  # fmt: skip
        _do(program, *where, *words, given=given, out=out)


@contextmanager
def postgres() -> Iterator[Database]:
    """An empty server (``postgres://…``), for as long as the block runs."""
    folder = Path(tempfile.mkdtemp(prefix="sulvet-postgres-"))
    if os.geteuid() == 0:
        if not any(one.pw_name == ACCOUNT for one in pwd.getpwall()):
            shutil.rmtree(folder)
            raise Trouble(MISSING)
        shutil.chown(folder, ACCOUNT, ACCOUNT)
    port = free_port()
    data = str(folder / "data")
    try:
        _do("initdb", "-D", data, "-A", "trust", "-U", ACCOUNT, "--encoding=UTF8", "--locale=C")
        how = f"-c listen_addresses=127.0.0.1 -c port={port} -k {folder} {CARELESS}"

        def start() -> None:
            _do("pg_ctl", "-D", data, "-w", "-l", str(folder / "log"), "-o", how, "start")

        start()
        say(f"PostgreSQL for this run on port {port}")
        try:
            yield Database(
                f"postgres://{ACCOUNT}@127.0.0.1:{port}/{ACCOUNT}",
                lambda: _do("pg_ctl", "-D", data, "-m", "fast", "stop"), start, port,
            )  # fmt: skip
        finally:
            # Where it was taken away and not brought back there is nothing to stop.
            with suppress(Trouble):
                _do("pg_ctl", "-D", data, "-m", "immediate", "stop")
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def _do(
    program: str, *words: str, given: IO[bytes] | None = None, out: IO[bytes] | None = None
) -> None:
    as_whom = ["runuser", "-u", ACCOUNT, "--"] if os.geteuid() == 0 else []
    done = subprocess.run(
        [*as_whom, _found(program), *words], cwd="/", stdin=given, stdout=out or subprocess.DEVNULL,
        stderr=subprocess.PIPE,
    )  # fmt: skip
    if done.returncode:
        raise Trouble(f"{program} failed: {done.stderr.decode(errors='replace').strip()[-500:]}")


def _found(program: str) -> str:
    """Where a program of PostgreSQL is: on the path, or where Debian puts the newest."""
    known = sorted(Path("/usr/lib/postgresql").glob(f"*/bin/{program}"))
    found = shutil.which(program) or (str(known[-1]) if known else None)
    if found is None:
        raise Trouble(MISSING)
    return found
