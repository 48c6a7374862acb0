"""How long ``run.py test`` takes, part by part, beside a fixed piece of work of the same run."""

from __future__ import annotations

import json
import subprocess
import sys
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from os import cpu_count
from statistics import median
from time import perf_counter

from launcher.testing import RUN_SECONDS
from tests.seconds import SECONDS, SLOWEST, seconds_by_part

ROOT = RUN_SECONDS.parents[1]
NUMBERS = 20_000_000


def _sum(count: int) -> int:
    return sum(n * n for n in range(count))


def fixed_work() -> float:
    """Seconds for one sum of squares a core, all at once; the median of three."""
    cores = cpu_count() or 1
    took = []
    with ProcessPoolExecutor(cores, mp_context=get_context("spawn")) as pool:
        list(pool.map(_sum, [1] * cores))
        for _ in range(3):
            began = perf_counter()
            list(pool.map(_sum, [NUMBERS] * cores))
            took.append(perf_counter() - began)
    return median(took)


def section() -> str:
    """Run everything, and table what took how long."""
    before = fixed_work()
    done = subprocess.run([sys.executable, str(ROOT / "run.py"), "test"], cwd=ROOT)
    work = (before + fixed_work()) / 2
    parts: dict[str, float] = json.loads(RUN_SECONDS.read_text("utf-8"))
    tests: dict[str, float] = json.loads(SECONDS.read_text("utf-8"))
    lines = [
        "| what | ratio to the baseline | seconds |", "|---|---|---|",
        f"| {NUMBERS:,} squares summed on every core at once (baseline) | 1.0 | {work:.1f} |",
    ]  # fmt: skip
    rows = [*parts.items(), ("in all", sum(parts.values()))]
    rows += [(f"tests of {name}, one after the other", s)
             for name, s in seconds_by_part(tests).items()]  # fmt: skip
    lines += [f"| {name} | {took / work:.1f} | {took:.0f} |" for name, took in rows]
    longest = sorted(tests.items(), key=lambda one: -one[1])[:SLOWEST]
    lines += ["", f"The slowest {SLOWEST} of {len(tests)} tests:", "", "| test | ratio | seconds |",
              "|---|---|---|"]  # fmt: skip
    lines += [
        f"| {name.removeprefix('tests.')} | {took / work:.1f} | {took:.1f} |"
        for name, took in longest
    ]
    if done.returncode:
        lines += ["", "**Not all of them passed.**"]
    return "\n".join(lines)
