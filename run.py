#!/usr/bin/env python3
"""Runs Sulvet from a fresh checkout. Standard library only.

python3 run.py demo    everything, with a made-up band to try
python3 run.py serve   everything, with your own, empty database
python3 run.py account NAME   an account for another teacher
python3 run.py password NAME  another password for an account
python3 run.py second-factor-off NAME  its phone is lost
python3 run.py district  as a district runs it, to try: PostgreSQL, queue, object store, workers
python3 run.py setup   environment and front-end build only
python3 run.py test    all tests
python3 run.py check   formatting, linting, types, import contract, schema
python3 run.py words   tables of words for other languages
python3 run.py bench   timings to docs/benchmarks.md, accuracy to docs/accuracy.md
python3 run.py train   the landmark networks again: hours; can be stopped and goes on
"""

from __future__ import annotations

import argparse
import os
import secrets
import subprocess
import tempfile
from pathlib import Path

from launcher import training
from launcher.environment import (
    DEVELOPMENT,
    DISTRICT,
    FRONTEND,
    MUTANTS,
    RUNTIME,
    TRAINING,
    VENV_TRAIN,
    ensure_development,
    ensure_frontend,
    ensure_node_modules,
    ensure_python,
)  # fmt: skip
from launcher.serving import (
    EVERYWHERE,
    keep_private,
    local_hosts,
    port_free,
    room_address,
    serve,
)
from launcher.shell import PYTHON, ROOT, VENV, Trouble, keep_bytecode, python_of, run, say
from launcher.testing import BUSY_LOOPS, Parts, busy_machine, one_at_a_time, throwaway

#: Commands for an account, and what does them.
SHELL = {
    "account": "add_account", "password": "changepassword",
    "second-factor-off": "second_factor_off",
}  # fmt: skip
#: ``--share`` without an address.
IN_THE_ROOM = "room"
SCHEMA_TYPES = FRONTEND / "src" / "api" / "schema.d.ts"


# -- serving --------------------------------------------------------------------


def manage(data: Path, *words: str, database: str | None = None) -> None:
    """Run a management command on one data folder; ``database`` instead of DATABASE_URL."""
    address = os.environ.get("DATABASE_URL", "") if database is None else database
    run(PYTHON, "manage.py", *words, SULVET_DATA=str(data), DATABASE_URL=address)


def start(options: argparse.Namespace, demo: bool) -> None:
    """``demo`` and ``serve``."""
    data = folder_of(options, demo)
    setup(development=False)
    shared = options.share == IN_THE_ROOM
    if shared:
        options.host = EVERYWHERE
    if not port_free(options.host, options.port):
        raise Trouble(f"Port {options.port} is in use. Choose another: --port {options.port + 1}")
    keep_private(data)
    say("preparing the database")
    code = secrets.token_hex(4)
    hosts = [*filter(None, [os.environ.get("SULVET_HOSTS")]), *local_hosts(options.host)]
    if shared:
        options.share = f"https://{room_address()}:{options.port}"
    environment = {"SULVET_FIRST_CODE": code, "SULVET_SHARE": options.share or ""}
    environment["SULVET_HOSTS"] = ",".join(hosts)
    new = prepare(data)
    here = "127.0.0.1" if options.host == EVERYWHERE else options.host
    address = options.share or f"http://{here}:{options.port}/"
    if shared:
        options.certificate = data / "certificate"
        environment["SULVET_CERTIFICATE"] = str(options.certificate)
    words = ["", f"Sulvet is at      {address}"]
    if demo:
        manage(data, "load_demo")
        words += ["Demo login        demo", "Password          sulvet-demo"]
    else:
        words += ["Open it in a browser."]
        if new:
            words += [f"Code to make the first account from another computer: {code}"]
    if shared:
        manage(data, "certificate", address, *hosts)
        words += ["For tablets and phones in this room, over HTTPS. Each asks once whether it may",
                  f"trust this computer: install {address}/authority.crt there, or go on past",
                  "the warning; see docs/running.md."]  # fmt: skip
    if hosts and not options.share:
        words += [f"On the network: {', '.join(f'http://{h}:{options.port}/' for h in hosts)}",
                  "Names and pictures cross it unprotected; see docs/running.md."]  # fmt: skip
    words += [f"Data are kept in  {data}", "Ctrl-C ends it."]
    serve(data, options, environment, words)


def folder_of(options: argparse.Namespace, demo: bool = False) -> Path:
    """The data folder that is meant."""
    return Path(options.data or ROOT / "data" / ("demo" if demo else "own")).resolve()


def prepare(data: Path) -> bool:
    """Bring the database up to date; whether nobody has an account yet."""
    done = subprocess.run(
        [str(PYTHON), "manage.py", "prepare"], cwd=ROOT, stdout=subprocess.PIPE, text=True,
        env={**os.environ, "SULVET_DATA": str(data)},
    )  # fmt: skip
    if done.returncode:
        raise Trouble("The database could not be prepared; the lines above say why.")
    return "new" in done.stdout.split()


def account(options: argparse.Namespace, command: str) -> None:
    """Another account, or another password for one, on the data folder that is meant."""
    data = folder_of(options)
    if not (data / "sulvet.sqlite3").exists():
        raise Trouble(f"There is no database in {data}. Name its folder: --data FOLDER")
    ensure_python([RUNTIME])
    manage(data, command, options.name)


# -- commands -------------------------------------------------------------------


def setup(development: bool) -> None:
    """Environment and build."""
    if development:
        ensure_development()
    ensure_python([RUNTIME])
    ensure_frontend()


def test(options: argparse.Namespace) -> None:
    """All tests, or those named as Django's runner names them, on SQLite or PostgreSQL."""
    parts, postgres = Parts(), options.database == "postgres"
    whole = not (options.names or options.tag)
    try:
        with parts.timed("install"), one_at_a_time("setup"):
            ensure_development()
        with parts.timed("build"), one_at_a_time("setup"):
            ensure_frontend()
        with busy_machine(BUSY_LOOPS if options.busy else 0):
            # What runs in the browser knows of no database.
            if whole and not postgres:
                with parts.timed("front end"):
                    run("npm", "run", "--silent", "test", where=FRONTEND, NO_COLOR="1")
            with parts.timed("Python and browser"):
                python_tests(options, postgres)
    finally:
        parts.tell()


def python_tests(options: argparse.Namespace, postgres: bool) -> None:
    """Core, apps and browser, in a data folder and on a database of this run's own."""
    # The core knows no database: what it does on one it does on the other.
    packages = sorted(file.parent.name for file in (ROOT / "tests").glob("*/__init__.py"))
    apps = [f"tests.{name}" for name in packages if name != "core"]
    words = options.names or (apps if postgres else ["tests"])
    words = [*words, *(f"--tag={name}" for name in options.tag)]
    if not options.names:
        # A district takes the whole machine: it is tried when it is named.
        words.append("--exclude-tag=district")
    if len(options.names) != 1:
        words.append(f"--parallel={os.cpu_count() or 1}")
    with (
        tempfile.TemporaryDirectory(prefix="sulvet-tests-", ignore_cleanup_errors=True) as data,
        throwaway(options.database) as address,
    ):
        manage(Path(data), "test", "--noinput", *words, database=address)


def check() -> None:
    """Everything a machine can say about the code without running it."""
    with one_at_a_time("setup"):
        ensure_development()
    tools = VENV / "bin"
    data = ROOT / ".cache" / "test-data"
    data.mkdir(parents=True, exist_ok=True)
    # Its cache answers by file; how imports are sorted depends on which other files there are.
    run(tools / "ruff", "check", "--no-cache", ".")
    run(tools / "ruff", "format", "--check", ".")
    run(tools / "mypy", SULVET_DATA=str(data))
    run(tools / "lint-imports")
    manage(data, "makemigrations", "--check", "--dry-run", "--verbosity=0")
    schema = ROOT / ".cache" / "schema.yaml"
    manage(data, "spectacular", "--file", str(schema), "--validate", "--fail-on-warn")
    generated = ROOT / ".cache" / "schema.d.ts"
    run("npx", "openapi-typescript", schema, "-o", generated, where=FRONTEND)
    if generated.read_text() != SCHEMA_TYPES.read_text():
        raise Trouble("The API's types are out of date. Run: python3 run.py schema")
    for script in ("lint", "types", "format"):
        run("npm", "run", "--silent", script, where=FRONTEND)
    say("all clean")


def schema() -> None:
    """Write the front end's API types anew."""
    ensure_python([RUNTIME, DEVELOPMENT])
    ensure_node_modules()
    file = ROOT / ".cache" / "schema.yaml"
    file.parent.mkdir(exist_ok=True)
    manage(ROOT / ".cache" / "test-data", "spectacular", "--file", str(file), "--validate")
    SCHEMA_TYPES.parent.mkdir(parents=True, exist_ok=True)
    run("npx", "openapi-typescript", file, "-o", SCHEMA_TYPES, where=FRONTEND)


def district(options: argparse.Namespace) -> None:
    """All servers of a district on this machine, with the demo band, until Ctrl-C."""
    from launcher import district as servers

    ensure_python([RUNTIME, DISTRICT])
    ensure_frontend()
    if not port_free("127.0.0.1", options.port):
        raise Trouble(f"Port {options.port} is in use. Choose another: --port {options.port + 1}")
    servers.run(options.port, options.workers)


def words() -> None:
    """Bring the tables of words up to what code and data files say, and compile them."""
    ensure_python([RUNTIME, DEVELOPMENT])
    run(PYTHON, "-m", "translation.tables")


def bench(only: list[str]) -> None:
    """Timings as ratios to a baseline of the same run, and how accurate Sulvet is."""
    setup(development=True)
    if "mutants" in only:
        ensure_python([MUTANTS])
    data = ROOT / ".cache" / "bench-data"
    data.mkdir(parents=True, exist_ok=True)
    run(PYTHON, "-m", "benchmarks", *only, SULVET_DATA=str(data))


def train(options: argparse.Namespace) -> None:
    """Draw made-up heads, train the four landmark networks on them, and write their files."""
    ensure_python([RUNTIME, DEVELOPMENT])
    ensure_python([TRAINING], VENV_TRAIN)
    training.train(options, python_of(VENV_TRAIN))


def main() -> None:
    """Read the command line."""
    parser = argparse.ArgumentParser(
        description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter
    )
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    for name in ("demo", "serve"):
        command = commands.add_parser(name)
        command.add_argument("--port", type=int, default=8000)
        command.add_argument("--host", default="127.0.0.1")
        command.add_argument("--data", type=Path, help="folder for database and clips")
        command.add_argument(
            "--share",
            nargs="?",
            const=IN_THE_ROOM,
            metavar="ADDRESS",
            help="for the phones and tablets of this network, over HTTPS; or, with an address, "
            "behind the server that has it (https://…); see docs/running.md",
        )
        command.add_argument("--proxy", default="127.0.0.1", metavar="IP",
                             help="where that server asks from (127.0.0.1)")  # fmt: skip
    for name in SHELL:
        command = commands.add_parser(name)
        command.add_argument("name")
        command.add_argument("--data", type=Path, help="folder of the database")
    for name in ("setup", "check", "schema", "words"):
        commands.add_parser(name)
    command = commands.add_parser("district")
    command.add_argument("--port", type=int, default=8000)
    command.add_argument("--workers", type=int, default=2)
    command = commands.add_parser("bench")
    command.add_argument("only", nargs="*", help="timings, finder, suite, mutants, or a section")
    command = commands.add_parser("test")
    command.add_argument("names", nargs="*")
    command.add_argument("--database", choices=["sqlite", "postgres"], default="sqlite",
                         help="postgres: a server of its own, from Debian's package")  # fmt: skip
    command.add_argument("--tag", action="append", default=[],
                         help="only tests so tagged: database, browser, district")  # fmt: skip
    command.add_argument("--busy", action="store_true",
                         help=f"beside {BUSY_LOOPS} busy loops")  # fmt: skip
    command = commands.add_parser("train")
    command.add_argument("--first", type=int, default=0, help="number of the first person")
    command.add_argument("--people", type=int, default=training.PEOPLE)
    command.add_argument(
        "--further", action="store_true", help="begin with the networks that are there"
    )
    command.add_argument("--place-steps", type=int, default=training.PLACE_STEPS)
    command.add_argument("--mark-steps", type=int, default=training.MARK_STEPS)
    options = parser.parse_args()
    keep_bytecode()
    if options.command in ("demo", "serve"):
        start(options, demo=options.command == "demo")
    elif options.command in SHELL:
        account(options, SHELL[options.command])
    elif options.command == "setup":
        setup(development=False)
    elif options.command == "district":
        district(options)
    elif options.command == "test":
        test(options)
    elif options.command == "bench":
        bench(options.only)
    elif options.command == "train":
        train(options)
    else:
        {"check": check, "schema": schema, "words": words}[options.command]()


if __name__ == "__main__":
    main()
