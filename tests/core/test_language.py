"""The core in another language: what data files say, and only while it is spoken."""

from __future__ import annotations

import datetime
import re
import string

from babel.messages.catalog import Catalog
from babel.messages.mofile import read_mo
from babel.messages.pofile import read_po
from django.test import SimpleTestCase

from sulvet.core.data_files import is_words
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.language import (
    listed,
    on_day,
    per_language,
    retold,
    said,
    speaking,
    spoken,
)
from sulvet.core.measures.catalogue import catalogue
from translation import tables as words

#: Folders and modules whose words only a shell or a developer reads, and the made-up band.
NOT_FOR_USERS = {
    "management", "migrations", "demo", "simulate", "dataset", "shell.py", "elsewhere.py",
    "settings.py",
    "databases.py", "views.py",
}  # fmt: skip


class LanguageTests(SimpleTestCase):
    def test_data_files_speak_what_is_spoken(self) -> None:
        with speaking("de-CH"):
            self.assertEqual(catalogue().measure("cheek_out_r").name, "Rechte Wange heraus")
            horn = shipped_standard("horn")
            self.assertEqual((horn.name, horn.section, horn.instrument), ("Horn", "Hörner", "horn"))
            self.assertEqual(said("There is no such sentence."), "There is no such sentence.")
        self.assertEqual(catalogue().measure("cheek_out_r").name, "Right cheek out")
        with speaking("tlh"):
            self.assertEqual(catalogue().measure("cheek_out_r").name, "Right cheek out")

    def test_answers_are_kept_for_each_language(self) -> None:
        asked: list[str] = []

        @per_language
        def greeting(name: str) -> str:
            asked.append(spoken())
            return f"{spoken()} {name}"

        for language in ("en", "de", "en", "de"):
            with speaking(language):
                self.assertEqual(greeting("Ada"), f"{language} Ada")
        self.assertEqual(asked, ["en", "de"])

    def test_names_of_things_in_code_are_no_words(self) -> None:
        self.assertFalse(is_words("name", "hold"))
        self.assertFalse(is_words("id", "Corner rise"))
        self.assertTrue(is_words("name", "Smile") and is_words("less", "lower"))

    def test_sentences_kept_in_english_are_retold(self) -> None:
        kept = "The clip ends after 3.2 s but was 8.0 s long: the copy is incomplete. Upload it "
        kept += "again if something important is missing."
        with speaking("de"):
            self.assertIn("endet nach 3,2 s, war aber 8,0 s lang", retold(kept))
            # What fills a place is known by itself, or has places of its own.
            self.assertEqual(
                retold("The mouth corners can't be seen in “hold”. Film again so that they are "
                       "visible, or place the marks yourself.").partition(".")[0],
                "In „Halten“ nicht zu sehen: Mundwinkel",
            )  # fmt: skip
            self.assertEqual(retold("Ada was away. {twice}"), "Ada was away. {twice}")
        self.assertEqual(retold(kept), kept)

    def test_numbers_days_and_lists_as_the_language_writes_them(self) -> None:
        day = datetime.date(2026, 12, 10)
        with speaking("de"):
            self.assertEqual(on_day(day), "10. Dezember")
            self.assertEqual(listed(["Rand", "Kinn", "Lippe"]), "Rand, Kinn und Lippe")
            self.assertIn("3,2 s", said("The clip breaks off after {last:.1f} s.", last=3.2))
        self.assertEqual(on_day(day), "10 December")


class TableTests(SimpleTestCase):
    """``run.py words`` was run after the last change of words."""

    def test_the_table_is_complete_and_compiled(self) -> None:
        wanted = words.sentences()
        for language in words.LANGUAGES:
            path = words.CORE / words.TABLE.format(language=language)
            with path.open("rb") as file:
                table = read_po(file, locale=language)
            with path.with_suffix(".mo").open("rb") as file:
                compiled = read_mo(file)
            self.assertEqual({m.id for m in table if m.id}, wanted)
            self.assertEqual([m.id for m in table if m.id and not m.string], [])
            self.assertEqual(_known(table), _known(compiled))
            for message in table:
                self._fits(str(message.id), str(message.string))

    def test_whatever_reads_like_a_sentence_is_in_it(self) -> None:
        """Strings of the code that a user would read, and that no ``said`` was put round."""
        known = words.sentences()
        missing = [
            f"{path.relative_to(words.ROOT)}:{line}: {text}"
            for path in words.CODE.rglob("*.py")
            if not any(part in NOT_FOR_USERS for part in path.relative_to(words.CODE).parts)
            for line, text in words.spoken_in(path)
            if text not in known
        ]
        self.assertEqual(missing, [])

    def _fits(self, said: str, translated: str) -> None:
        if translated and re.search(r"{\w", said):
            fields = [
                sorted(
                    f"{name}:{spec}" for _, name, spec, _ in string.Formatter().parse(text) if name
                )
                for text in (said, translated)
            ]
            self.assertEqual(*fields)


def _known(table: Catalog) -> dict[str, str]:
    return {str(m.id): str(m.string) for m in table if m.id and m.string}
