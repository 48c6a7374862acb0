"""``run.py words``: the tables of words, brought up to what the code and the data files say.

Every sentence that is refused with, and every field of a data file that a user reads, gets an
entry in each language's ``.po``; what is said no more goes. Then the tables are compiled.
"""

from __future__ import annotations

import ast
import datetime
import json
import re
import tomllib
from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from pathlib import Path
from typing import Any, get_args

from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

ROOT = Path(__file__).resolve().parents[1]
CODE, CORE = ROOT / "sulvet", ROOT / "sulvet" / "core"
#: Where a language's table lies.
TABLE = "locale/{language}/LC_MESSAGES/sulvet.po"
LANGUAGES = ("de",)
#: In the tables' heads: the same day always, so that only words make a difference.
WRITTEN = datetime.datetime(2026, 11, 29, tzinfo=datetime.UTC)
#: Three words or more from a capital to a full stop.
SENTENCE = re.compile(r"(?:^|\s)[“A-Z{][^<>=]*? [^<>=]*? [^<>=]*?[a-z”}][.!?](?:\s|$)")
#: What is called with words for whoever reads the code, its log or its shell.
DESCRIBING = {
    "extend_schema", "ArgumentParser", "add_argument", "add_parser", "OpenApiParameter",
    "ValueError", "RuntimeError", "DataFileError", "KeyError", "AssertionError", "warning", "info",
    "exception", "OSError", "CommandError", "Edit", "edit_view", "ImproperlyConfigured",
}  # fmt: skip
#: What is called with a sentence for the user.
SAYING = {"said", "Refused", "Conflict", "Outdated", "CodeWanted", "gettext_noop"}


def sentences() -> set[str]:
    """All that data files and code say."""
    from sulvet.core.anatomy.landmarks import BY_ID
    from sulvet.core.exercises.row import Wrong
    from sulvet.core.judgement.change import BETTER, OTHER, WORSE
    from sulvet.core.measures.units import FILE
    from sulvet.core.phases import PHASES
    from sulvet.core.sound.parameters import parameters

    units = {words.strip() for words in json.loads(FILE.read_text("utf-8"))["words"].values()}
    stages = {words for names in parameters().stages.values() for words in names.values()}
    marks = {words for mark in BY_ID.values() for words in (mark.label, mark.where)}
    listed = {*marks, *PHASES, BETTER, OTHER, WORSE, *get_args(Wrong), *units, *stages} - {""}
    return listed | sentences_of_data() | sentences_of_code(CODE.rglob("*.py"))


def sentences_of_code(paths: Iterable[Path]) -> set[str]:
    """What calls of ``said`` and its like say, in place or by a constant's name."""
    trees = [ast.parse(path.read_text(encoding="utf-8")) for path in paths]
    everywhere: dict[str, set[str]] = defaultdict(set)
    for tree in trees:
        for name, words in _constants(tree).items():
            if name.isupper():
                everywhere[name] |= words
    found = set()
    for tree in trees:
        # A name means the constant of its own module first.
        known = everywhere | _constants(tree)
        for call in ast.walk(tree):
            if not isinstance(call, ast.Call) or not call.args:
                continue
            if ast.unparse(call.func).rpartition(".")[2] in SAYING:
                found |= {words for words in _said(call.args[0], known) if words}
    return found


def spoken_in(path: Path) -> Iterator[tuple[int, str]]:
    """Line and text of every string of a module that reads like a sentence to a user.

    Not what describes code (docstrings, descriptions of the API) or errors of data files.
    """
    tree = ast.parse(path.read_text(encoding="utf-8"))
    beside = {
        id(part)
        for node in ast.walk(tree)
        if isinstance(node, ast.Expr) or (isinstance(node, ast.Call) and _describes(node))
        for part in ast.walk(node.value if isinstance(node, ast.Expr) else node)
        if isinstance(node, ast.Call) or isinstance(node.value, ast.Constant | ast.JoinedStr)
    }
    parts = {
        id(part)
        for node in ast.walk(tree) if isinstance(node, ast.JoinedStr)
        for part in node.values
    }  # fmt: skip
    for node in ast.walk(tree):
        if id(node) in beside or id(node) in parts:
            continue
        if isinstance(node, ast.Constant) and isinstance(node.value, str):
            text = node.value
        elif isinstance(node, ast.JoinedStr):
            text = "".join(
                str(p.value) if isinstance(p, ast.Constant) else "{}" for p in node.values
            )
        else:
            continue
        if SENTENCE.search(text):
            yield node.lineno, text


def _describes(call: ast.Call) -> bool:
    return ast.unparse(call.func).rpartition(".")[2] in DESCRIBING


def _constants(tree: ast.Module) -> dict[str, set[str]]:
    """The sentences that a module, or a function in it, gives a name, by that name."""
    found: dict[str, set[str]] = defaultdict(set)
    for node in ast.walk(tree):
        targets: list[ast.expr] = []
        if isinstance(node, ast.Assign):
            targets = node.targets
        elif isinstance(node, ast.AnnAssign) and node.value is not None:
            targets = [node.target]
        for target in targets:
            if isinstance(target, ast.Name):
                found[target.id] |= set(_strings(node.value))  # type: ignore[attr-defined]
    return found


def _strings(value: ast.expr) -> Iterator[str]:
    """The strings that a constant may be: itself, or what a dictionary, tuple or choice holds."""
    if isinstance(value, ast.Constant) and isinstance(value.value, str):
        yield value.value
    elif isinstance(value, ast.Dict | ast.Tuple | ast.List):
        for part in value.values if isinstance(value, ast.Dict) else value.elts:
            yield from _strings(part)
    elif isinstance(value, ast.IfExp):
        yield from _strings(value.body)
        yield from _strings(value.orelse)


def _said(given: ast.expr, constants: Mapping[str, set[str]]) -> Iterator[str]:
    if isinstance(given, ast.Name | ast.Attribute):
        yield from constants.get(given.id if isinstance(given, ast.Name) else given.attr, ())
    elif isinstance(given, ast.Subscript):
        yield from _said(given.value, constants)
    elif isinstance(given, ast.IfExp):
        yield from _said(given.body, constants)
        yield from _said(given.orelse, constants)
    elif isinstance(given, ast.BoolOp):
        for part in given.values:
            yield from _said(part, constants)
    else:
        yield from _strings(given)


def sentences_of_data() -> set[str]:
    """What the data files of the core say to a user."""
    from sulvet.core.data_files import is_words

    def words(value: Any, field: str) -> Iterator[str]:
        if isinstance(value, dict):
            for name, part in value.items():
                yield from words(part, name)
        elif isinstance(value, list):
            for part in value:
                yield from words(part, field)
        elif isinstance(value, str) and is_words(field, value):
            yield value

    found: set[str] = set()
    for path in CORE.rglob("data/**/*.toml"):
        found |= set(words(tomllib.loads(path.read_text(encoding="utf-8")), ""))
    return found


def updated(path: Path, sentences: Iterable[str], language: str) -> Catalog:
    """A table with these sentences and what it knows of them."""
    known: Catalog = Catalog(locale=language)
    if path.exists():
        with path.open("rb") as file:
            known = read_po(file, locale=language)
    table = Catalog(
        locale=language, project="Sulvet", header_comment="# The words of Sulvet.", fuzzy=False,
        creation_date=WRITTEN, revision_date=WRITTEN,
    )  # fmt: skip
    for words in sorted(sentences):
        there = known.get(words)
        flags = ["python-brace-format"] if "{" in words else []
        table.add(words, there.string if there else "", flags=flags)
    return table


def main() -> None:
    """Bring all tables up to date and say what is missing in them."""
    for language in LANGUAGES:
        path = CORE / TABLE.format(language=language)
        path.parent.mkdir(parents=True, exist_ok=True)
        table = updated(path, sentences(), language)
        with path.open("wb") as file:
            write_po(file, table, width=100, omit_header=False)
        with path.with_suffix(".mo").open("wb") as file:
            write_mo(file, table)
        missing = sum(1 for message in table if message.id and not message.string)
        print(f"{path.relative_to(ROOT)}: {len(table)} sentences, {missing} not translated")


if __name__ == "__main__":
    main()
