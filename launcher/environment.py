"""What Sulvet needs on a machine: the packages of both languages, and the built pages."""

from __future__ import annotations

import hashlib
import re
import shutil
import subprocess
import sys
from collections.abc import Iterable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from launcher.shell import ROOT, VENV, Trouble, python_of, run, say

FRONTEND = ROOT / "frontend"
DIST = FRONTEND / "dist"
#: How units are written: the pages read it as well.
UNITS = ROOT / "sulvet" / "core" / "measures" / "data" / "units.json"
RUNTIME, DEVELOPMENT = ROOT / "requirements.txt", ROOT / "requirements-dev.txt"
DISTRICT, MUTANTS = ROOT / "requirements-district.txt", ROOT / "requirements-mutants.txt"
#: Training wants other versions than Sulvet runs on: an environment of its own.
TRAINING, VENV_TRAIN = ROOT / "requirements-train.txt", ROOT / ".venv-train"


def digest(files: Iterable[Path]) -> str:
    """One hash over the contents of files."""
    total = hashlib.sha256()
    for file in files:
        total.update(file.name.encode())
        total.update(file.read_bytes())
    return total.hexdigest()


def fresh(stamp: Path, value: str) -> bool:
    """Whether a stamp says that this very thing was made already."""
    return stamp.is_file() and stamp.read_text() == value


def ensure_python(lists: list[Path], venv: Path = VENV) -> None:
    """The virtual environment with these package lists installed."""
    python = python_of(venv)
    if sys.version_info < (3, 11):  # noqa: UP036  this file may meet an older one
        raise Trouble("Sulvet needs Python 3.11 or newer.")
    if not python.exists():
        say("making the Python environment")
        made = subprocess.run([sys.executable, "-m", "venv", str(venv)])
        if made.returncode:
            shutil.rmtree(venv, ignore_errors=True)
            raise Trouble("Python can't make environments here; on Debian install python3-venv.")
    for file in lists:
        stamp = venv / f"{file.stem}.stamp"
        value = digest([file])
        if fresh(stamp, value):
            continue
        say(f"installing {file.name} (the first time takes some minutes)")
        # The lists are complete; only what a torch for graphics cards asks for is not in them.
        alone = [] if file == TRAINING else ["--no-deps"]
        # Of so many packages only a few modules are ever loaded: those are compiled then.
        run(python, "-m", "pip", "install", "--quiet", "--disable-pip-version-check",
            "--no-compile", *alone, "-r", file)  # fmt: skip
        stamp.write_text(value)


def ensure_node_modules() -> None:
    """The front end's packages, as locked."""
    node, npm = shutil.which("node"), shutil.which("npm")
    if not node or not npm:
        raise Trouble("Node 20 or newer with npm is needed to build the pages.")
    version = subprocess.run([node, "--version"], capture_output=True, text=True).stdout
    if int(re.findall(r"\d+", version)[0]) < 20:
        raise Trouble(f"Node 20 or newer is needed to build the pages; this is {version.strip()}.")
    stamp = FRONTEND / "node_modules" / ".sulvet-stamp"
    value = digest([FRONTEND / "package.json", FRONTEND / "package-lock.json"])
    if not fresh(stamp, value):
        say("installing the front end's packages")
        run(npm, "ci", "--no-audit", "--no-fund", "--loglevel=error", where=FRONTEND)
        stamp.write_text(value)


def ensure_frontend() -> None:
    """The built pages."""
    skip = {"node_modules", "dist"}
    own = sorted(
        file
        for file in FRONTEND.rglob("*")
        if file.is_file() and not skip & set(file.relative_to(FRONTEND).parts)
    )
    stamp, value = DIST / ".sulvet-stamp", digest([*own, UNITS])
    if fresh(stamp, value):
        return
    ensure_node_modules()
    say("building the pages")
    run("npm", "run", "--silent", "build", where=FRONTEND)
    stamp.write_text(value)


def ensure_development() -> None:
    """The packages of both languages, for tests and checks; one waits for the network while the
    other unpacks."""
    with ThreadPoolExecutor() as pool:
        for done in [
            pool.submit(ensure_python, [RUNTIME, DEVELOPMENT, DISTRICT]),
            pool.submit(ensure_node_modules),
        ]:
            done.result()
