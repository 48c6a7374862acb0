"""A PostgreSQL of its own for one run: started on this machine, thrown away afterwards."""

from __future__ import annotations

import os
import pwd
import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from launcher.servers import free_port
from launcher.shell import Trouble, say

MISSING = "PostgreSQL is not installed here. On Debian: apt-get install postgresql"
#: It refuses to run as root; Debian's package brings this account.
ACCOUNT = "postgres"
#: What a database that is thrown away need not do: outlive a power cut.
CARELESS = "-c fsync=off -c synchronous_commit=off -c full_page_writes=off"


@contextmanager
def postgres() -> Iterator[str]:
    """The address of an empty server (``postgres://…``), for as long as the block runs."""
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
        _do("pg_ctl", "-D", data, "-w", "-l", str(folder / "log"), "-o", how, "start")
        say(f"PostgreSQL for this run on port {port}")
        try:
            yield f"postgres://{ACCOUNT}@127.0.0.1:{port}/{ACCOUNT}"
        finally:
            _do("pg_ctl", "-D", data, "-m", "immediate", "stop")
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def _do(program: str, *words: str) -> None:
    as_whom = ["runuser", "-u", ACCOUNT, "--"] if os.geteuid() == 0 else []
    done = subprocess.run(
        [*as_whom, _found(program), *words], cwd="/", text=True, stdout=subprocess.DEVNULL,
        stderr=subprocess.PIPE,
    )  # fmt: skip
    if done.returncode:
        raise Trouble(f"{program} failed: {done.stderr.strip()[-500:]}")


def _found(program: str) -> str:
    """Where a program of PostgreSQL is: on the path, or where Debian puts the newest."""
    known = sorted(Path("/usr/lib/postgresql").glob(f"*/bin/{program}"))
    found = shutil.which(program) or (str(known[-1]) if known else None)
    if found is None:
        raise Trouble(MISSING)
    return found
