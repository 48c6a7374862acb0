"""What a kept result was made by: one digest over a module, all it imports, and their figures."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from functools import cache
from pathlib import Path

import grimp

ROOT = Path(__file__).resolve().parents[1]


@cache
def of_module(name: str) -> str:
    """Digest of a module of Sulvet's with everything it imports, data files beside them, and the
    packages."""
    graph = grimp.build_graph("sulvet", cache_dir=None)
    sources = [
        ROOT / f"{module.replace('.', '/')}.py"
        for module in {name, *graph.find_upstream_modules(name)}
    ]
    figures = {
        file
        for folder in {source.parent for source in sources}
        for file in (folder / "data").rglob("*")
        if file.is_file()
    }
    there = {source for source in sources if source.exists()}
    return of_files(sorted(there | figures | {ROOT / "requirements.txt"}))


def of_files(files: Iterable[Path]) -> str:
    """Digest of the names and contents of files."""
    total = hashlib.sha256()
    for file in files:
        total.update(file.name.encode())
        total.update(hashlib.sha256(file.read_bytes()).digest())
    return total.hexdigest()
