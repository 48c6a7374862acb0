"""Where things are, and talking to the person at the shell."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
VENV = ROOT / ".venv"


def python_of(venv: Path) -> Path:
    """The interpreter of an environment."""
    return venv / ("Scripts/python.exe" if os.name == "nt" else "bin/python")


PYTHON = python_of(VENV)


class Trouble(SystemExit):
    """Something the person at the shell has to know; ends the program with status 1."""

    def __init__(self, sentence: str) -> None:
        print(f"run.py: {sentence}", file=sys.stderr)
        super().__init__(1)


def keep_bytecode() -> None:
    """Have every process below compile a module once for all, outside the source tree.

    pip leaves modules uncompiled, and many a machine that runs tests asks Python to write no
    bytecode: each process would then compile some thousand modules anew.
    """
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    os.environ.setdefault("PYTHONPYCACHEPREFIX", str(ROOT / ".cache" / "bytecode"))


def say(sentence: str) -> None:
    """One line of progress."""
    print(f"== {sentence}", flush=True)


def run(*command: str | Path, where: Path = ROOT, **environment: str) -> None:
    """Run a command to its end; its failure is ours."""
    done = subprocess.run(
        [str(part) for part in command], cwd=where, env={**os.environ, **environment}
    )
    if done.returncode:
        raise Trouble(f"“{' '.join(str(part) for part in command)}” failed.")
