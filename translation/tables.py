"""``run.py words``: the tables of words, brought up to what the code and the data files say.

Every sentence that is refused with, and every field of a data file that a user reads, gets an
entry in each language's ``.po``; what is said no more goes. Then the tables are compiled.
"""

from __future__ import annotations

import ast
import datetime
import json
import tomllib
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

ROOT = Path(__file__).resolve().parents[1]
CODE, CORE = ROOT / "sulvet", ROOT / "sulvet" / "core"
LANGUAGES = ("de",)
#: In the tables' heads: the same day always, so that only words make a difference.
WRITTEN = datetime.datetime(2026, 11, 29, tzinfo=datetime.UTC)
#: What is called with a sentence for the user.
SAYING = {"said", "Refused", "Conflict", "Outdated", "CodeWanted", "gettext", "gettext_noop"}


def sentences_of_apps() -> set[str]:
    """What the apps say, in calls and in constants that calls name."""
    return _called(path for path in CODE.rglob("*.py") if CORE not in path.parents)


def sentences_of_core() -> set[str]:
    """What the core's data files and its code say."""
    from sulvet.core.judgement.change import BETTER, OTHER, WORSE
    from sulvet.core.measures.units import FILE

    units = {words.strip() for words in json.loads(FILE.read_text("utf-8"))["words"].values()}
    return sentences_of_data() | _called(CORE.rglob("*.py")) | {BETTER, OTHER, WORSE} | units - {""}


def _called(paths: Iterable[Path]) -> set[str]:
    trees = [ast.parse(path.read_text(encoding="utf-8")) for path in paths]
    everywhere = {name: words for tree in trees for name, words in _constants(tree).items()}
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


def _constants(tree: ast.Module) -> dict[str, str]:
    """The sentences that a module gives a name, by that name."""
    return {
        target.id: node.value.value
        for node in tree.body
        if isinstance(node, ast.Assign) and isinstance(node.value, ast.Constant)
        for target in node.targets
        if isinstance(target, ast.Name) and isinstance(node.value.value, str)
    }


def _said(given: ast.expr, constants: dict[str, str]) -> Iterator[str]:
    if isinstance(given, ast.Constant):
        yield str(given.value)
    elif isinstance(given, ast.Name | ast.Attribute):
        name = given.id if isinstance(given, ast.Name) else given.attr
        if name in constants:
            yield constants[name]
    elif isinstance(given, ast.IfExp):
        yield from _said(given.body, constants)
        yield from _said(given.orelse, constants)
    elif isinstance(given, ast.BoolOp):
        for part in given.values:
            yield from _said(part, constants)


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


#: Where the tables of each half lie, and what is in them.
TABLES = (
    (CODE / "locale", "django", sentences_of_apps),
    (CORE / "locale", "core", sentences_of_core),
)


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
    for folder, domain, sentences in TABLES:
        for language in LANGUAGES:
            path = folder / language / "LC_MESSAGES" / f"{domain}.po"
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
