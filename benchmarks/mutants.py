"""Would the tests notice? The code is changed in one small place at a time, by lot, and tested."""

from __future__ import annotations

import ast
import hashlib
import importlib.util
import json
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
from collections import Counter, defaultdict
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue
from time import perf_counter

ROOT = Path(__file__).resolve().parents[1]
LOT, SEED = 300, 43
#: So many of each part at least, if there are so many.
LEAST = 12
#: What is changed, and the tests that must notice.
PARTS = {
    "core/judgement": ("sulvet/core/judgement/*.py", ("tests.core.judgement", "tests.calibration")),
    "core/measures": ("sulvet/core/measures/*.py", ("tests.core.measures", "tests.core.anatomy")),
    "core/sound": ("sulvet/core/sound/*.py", ("tests.core.sound",)),
    "takes/analysis": ("sulvet/takes/analysis.py", ("tests.takes", "tests.calibration")),
    "takes/history": ("sulvet/takes/history.py", ("tests.takes",)),
    "accounts/roles": ("sulvet/accounts/roles.py", ("tests.accounts", "tests.web")),
    "booth/links": ("sulvet/booth/links.py", ("tests.booth",)),
}
#: Changes that were noticed, kept so that a run can be stopped and goes on, and that after a new
#: test only those are tried again that were not.
NOTICED = ROOT / ".cache" / "mutants.json"
#: Tests of a mutant may take so many times as long as without one, and this much more, s.
PATIENCE, START = 5.0, 60.0
#: Names of a kind of change are those of the library, without what it puts in place of what.
KIND = re.compile(r"core/(Replace(?:Binary|Comparison|Unary)Operator|\w+)")


@dataclass(frozen=True)
class Mutant:
    """One small change: the library's operator, and which of its places in the file."""

    part: str
    file: str
    operator: str
    occurrence: int
    line: int

    def __str__(self) -> str:
        return f"{self.file}:{self.line} {self.operator.removeprefix('core/')}"


def annotated(source: str) -> set[int]:
    """Lines and columns (line * 1000 + column) inside annotations: nothing runs there."""
    inside: set[int] = set()
    for node in ast.walk(ast.parse(source)):
        for name in ("annotation", "returns"):
            told = getattr(node, name, None)
            if told is not None:
                lines = range(told.lineno, told.end_lineno + 1)
                inside |= {line * 1000 + column for line in lines for column in range(1000)
                           if (line, column) >= (told.lineno, told.col_offset)
                           and (line, column) < (told.end_lineno, told.end_col_offset)}  # fmt: skip
    return inside


def mutants() -> Iterator[tuple[str, Mutant]]:
    """Every change there is, with its place: several can be made at one."""
    from cosmic_ray.ast import ast_nodes, get_ast
    from cosmic_ray.plugins import get_operator, operator_names

    for part, (pattern, _) in PARTS.items():
        for path in sorted(ROOT.glob(pattern)):
            source, name = path.read_text("utf-8"), str(path.relative_to(ROOT))
            tree, nowhere = get_ast(source), annotated(source)
            for operator in operator_names():
                if "Variable" in operator:
                    continue
                kind = KIND.match(operator)
                assert kind is not None, operator
                places = (
                    start
                    for node in ast_nodes(tree)
                    for start, _ in get_operator(operator)().mutation_positions(node)
                )
                for occurrence, (line, column) in enumerate(places):
                    if line * 1000 + column not in nowhere:
                        place = f"{name}:{line}:{column}:{kind[1]}"
                        yield place, Mutant(part, name, operator, occurrence, line)


def by_lot() -> list[Mutant]:
    """So many places by lot, and at each one of the changes that can be made there."""
    places = defaultdict(list)
    for place, mutant in mutants():
        places[place].append(mutant)
    draw = random.Random(SEED)
    order = draw.sample(sorted(places), len(places))
    by_part = defaultdict(list)
    for place in order:
        by_part[places[place][0].part].append(place)
    first = [place for part in by_part.values() for place in part[:LEAST]]
    rest = [place for place in order if place not in set(first)]
    return [draw.choice(places[place]) for place in (first + rest)[:LOT]]


def copy_of_checkout(folder: Path) -> None:
    """What is in the repository, as it stands, to be changed freely."""
    listed = subprocess.run(
        ["git", "ls-files", "-z", "--cached", "--others", "--exclude-standard"], cwd=ROOT,
        stdout=subprocess.PIPE, check=True,
    ).stdout.decode()  # fmt: skip
    for name in filter(None, listed.split("\0")):
        if not name.startswith("training/") and (ROOT / name).is_file():
            (folder / name).parent.mkdir(parents=True, exist_ok=True)
            shutil.copyfile(ROOT / name, folder / name)
    for name in (".venv", "frontend/dist", "frontend/node_modules"):
        (folder / name).symlink_to(ROOT / name)
    shutil.copytree(
        ROOT / ".cache", folder / ".cache", dirs_exist_ok=True,
        ignore=shutil.ignore_patterns("bytecode"),
    )  # fmt: skip


def passes(folder: Path, tests: tuple[str, ...], seconds: float) -> bool:
    """Whether these tests pass in a copy; one that takes too long does not."""
    with tempfile.TemporaryDirectory(prefix="sulvet-mutant-") as data:
        running = subprocess.Popen(
            [sys.executable, "manage.py", "test", "--noinput", "--failfast", *tests],
            cwd=folder, start_new_session=True,
            # Compiled code is known by its second and size: it would outlive a quick change.
            env={**os.environ, "SULVET_DATA": data, "PYTHONDONTWRITEBYTECODE": "1"},
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        try:
            return running.wait(seconds) == 0
        except subprocess.TimeoutExpired:
            os.killpg(running.pid, 9)
            running.wait()
            return False


def survives(folder: Path, mutant: Mutant, seconds: float) -> bool:
    """Make the change in a copy, test it, and take it back."""
    from cosmic_ray.mutating import mutate_code
    from cosmic_ray.plugins import get_operator

    path = folder / mutant.file
    source = path.read_text("utf-8")
    changed = mutate_code(source, get_operator(mutant.operator)(), mutant.occurrence)
    assert changed is not None and changed != source, mutant
    compiled = Path(importlib.util.cache_from_source(str(path)))
    try:
        path.write_text(changed, "utf-8")
        # Of the same length in the same second it would be taken for the one before.
        compiled.unlink(missing_ok=True)
        return passes(folder, PARTS[mutant.part][1], seconds)
    finally:
        path.write_text(source, "utf-8")
        compiled.unlink(missing_ok=True)


def section() -> str:
    """The table and every survivor."""
    drawn = by_lot()
    noticed: set[str] = set(json.loads(NOTICED.read_text()) if NOTICED.exists() else [])
    workers = os.cpu_count() or 1
    with tempfile.TemporaryDirectory(prefix="sulvet-mutants-", ignore_cleanup_errors=True) as name:
        free: SimpleQueue[Path] = SimpleQueue()
        for n in range(workers):
            copy_of_checkout(Path(name) / str(n))
            free.put(Path(name) / str(n))
        allowed = {}
        for part, (_, tests) in PARTS.items():
            began = perf_counter()
            if not passes(Path(name) / "0", tests, 3600.0):
                raise SystemExit(f"The tests of {part} fail without any change.")
            allowed[part] = PATIENCE * (perf_counter() - began) + START
            print(f"{part}: {perf_counter() - began:.0f} s", flush=True)

        def tried(mutant: Mutant) -> bool:
            if (key := _key(mutant)) in noticed:
                return False
            folder = free.get()
            try:
                survived = survives(folder, mutant, allowed[mutant.part])
            finally:
                free.put(folder)
            print("survived" if survived else "noticed", mutant, flush=True)
            if not survived:
                noticed.add(key)
                NOTICED.write_text(json.dumps(sorted(noticed), indent=0))
            return survived

        with ThreadPoolExecutor(workers) as pool:
            survived = list(pool.map(tried, drawn))
    return _page(drawn, survived)


def _key(mutant: Mutant) -> str:
    """A change to this very file."""
    source = hashlib.sha256((ROOT / mutant.file).read_bytes()).hexdigest()[:12]
    return f"{source} {mutant} {mutant.occurrence}"


def _page(drawn: list[Mutant], survived: list[bool]) -> str:
    made = Counter(mutant.part for mutant in drawn)
    left = [mutant for mutant, alive in zip(drawn, survived, strict=True) if alive]
    lived = Counter(mutant.part for mutant in left)
    lines = ["| part | changes | noticed |", "|---|---|---|"]
    lines += [
        f"| {part} | {made[part]} | {1 - lived[part] / made[part]:.0%} |"
        for part in PARTS
        if made[part]
    ]
    lines.append(f"| all | {len(drawn)} | {1 - len(left) / len(drawn):.0%} |")
    lines += ["", "Not noticed:", "", *(f"- `{mutant}`" for mutant in left)]
    return "\n".join(lines)
