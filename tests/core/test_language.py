"""The core in another language: what data files say, and only while it is spoken."""

from __future__ import annotations

import re
import string

from babel.messages.catalog import Catalog
from babel.messages.mofile import read_mo
from babel.messages.pofile import read_po
from django.test import SimpleTestCase

from sulvet.core.data_files import is_words
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.language import per_language, said, speaking, spoken
from sulvet.core.measures.catalogue import catalogue
from translation import tables as words


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


class TableTests(SimpleTestCase):
    """``run.py words`` was run after the last change of words."""

    def test_tables_hold_what_is_said_and_are_compiled(self) -> None:
        for folder, domain, sentences in words.TABLES:
            for language in words.LANGUAGES:
                with self.subTest(domain=domain, language=language):
                    path = folder / language / "LC_MESSAGES" / f"{domain}.po"
                    with path.open("rb") as file:
                        table = read_po(file, locale=language)
                    with path.with_suffix(".mo").open("rb") as file:
                        compiled = read_mo(file)
                    self.assertEqual({m.id for m in table if m.id}, sentences())
                    self.assertEqual(_known(table), _known(compiled))
                    for message in table:
                        self._fits(str(message.id), str(message.string))

    def test_what_the_apps_say_is_translated_in_full(self) -> None:
        folder, domain, _ = words.TABLES[0]
        with (folder / "de" / "LC_MESSAGES" / f"{domain}.po").open("rb") as file:
            table = read_po(file, locale="de")
        self.assertEqual([m.id for m in table if m.id and not m.string], [])

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
