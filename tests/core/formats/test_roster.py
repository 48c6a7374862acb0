"""Class lists as schools write them: columns, instruments, dates, spreadsheets, updates."""

from __future__ import annotations

import datetime
import io
from typing import Any

import openpyxl
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.formats import dates, roster
from sulvet.core.formats.instrument_names import instrument_of

SEPTEMBER = datetime.date(2026, 9, 1)
TODAY = datetime.date(2026, 11, 29)
ADA: dict[str, roster.Cell] = {
    "name": "Ada Lunde", "instrument": "horn", "school": "seven-eighths",
    "consent_on": SEPTEMBER, "consent_until": None, "retain_until": None,
}  # fmt: skip


def sheet(*rows: tuple[Any, ...]) -> bytes:
    book, out = openpyxl.Workbook(), io.BytesIO()
    for row in rows:
        book.active.append(row)  # type: ignore[union-attr]
    book.save(out)
    return out.getvalue()


class LineTests(SimpleTestCase):
    def test_rows_as_teachers_write_them(self) -> None:
        for data in (
            b"Name,Instrument,Style,Consent since\nAda Lunde,Horn,Seven eighths,2026-09-01\n",
            "\ufeffSTUDENT;instrument;school of playing;consent\r\n\r\nAda  Lunde;French Horn;"
            "seven-eighths;1.9.2026\r\n".encode(),
            b"instrument\tfirst name\tlast name\tconsent\tstyle\nF Horn\tAda\tLunde\t9/1/26\t"
            b"seven eighths",
            b'name,instrument,style,consent\n"Lunde, Ada",horns,seven eighths,Sep 1 2026\n',
            sheet(("Name", "Instrument", "Style", "Permission"),
                  ("Ada Lunde", "Horn 2", "Seven eighths", datetime.datetime(2026, 9, 1))),
        ):  # fmt: skip
            (line,) = roster.load(data, order="month").lines
            self.assertEqual((line.errors, line.facts), ((), ADA), data)

    def test_each_row_says_all_that_is_wrong_with_it(self) -> None:
        read = roster.load(
            b"name,instrument,style,consent,consent until,grade\n"
            b",clarinett,,soon,,6\nAda,horn,gathered,2026-09-01,2026-08-01,6\nEdda,trumpit,,,,\n"
            b"ada,horn,,,,\n"
        )
        told = [" ".join(line.errors) for line in read.lines]
        self.assertEqual([line.number for line in read.lines], [2, 3, 4, 5])
        self.assertEqual((read.ignored, read.ready), (("grade",), False))
        for row, words in (
            (0, "name is missing"), (0, "Did you mean clarinet?"),
            (0, "“soon” is not a date"), (1, "Unknown embouchure style “gathered” for horn"),
            (1, "ends before it starts"), (2, "Did you mean trumpet?"), (3, "twice"),
        ):  # fmt: skip
            self.assertIn(words, told[row])

    def test_who_plays_nothing_that_is_filmed_stops_nobody(self) -> None:
        read = roster.load(
            b"name,instrument,consent\nAda,horn,x\nBo,Percussion 1,soon\nCy,Kazoo,\nDa,Violins,x\n"
            b"Ed,String Bass,\nFi,Bell Kit,\nGo,Bass Drum,\n",
            today=TODAY,
        )
        self.assertTrue(read.ready)
        self.assertEqual(
            [line.skipped for line in read.lines],
            ["", "not filmed", "unknown", *4 * ["not filmed"]],
        )

    def test_a_second_list_says_what_it_would_change(self) -> None:
        read = roster.load(
            b"name,instrument,consent,keep until\n"
            b"ADA lunde,horn,,2028-07-31\nAda Lunde-Ek,horn,x,\n",
            {"ada lunde": ADA},
            today=TODAY,
        )
        self.assertTrue(read.ready)
        ada, new = read.lines
        self.assertEqual(
            (ada.known, ada.changes, ada.facts["consent_on"], ada.facts["school"]),
            (True, (("retain_until", None, datetime.date(2028, 7, 31)),), SEPTEMBER,
             "seven-eighths"),
        )  # fmt: skip
        self.assertEqual((new.known, new.facts["consent_on"]), (False, TODAY))
        (gone,) = roster.load(b"name,instrument,consent\nAda Lunde,horn,no\n",
                              {"ada lunde": ADA}).lines  # fmt: skip
        self.assertEqual(gone.changes, (("consent_on", SEPTEMBER, None),))
        (doubt,) = roster.load(b"name,instrument\nAda Lunde,horn\n", {"ada lunde": None}).lines
        self.assertIn("Several students are called Ada Lunde", doubt.errors[0])

    def test_what_is_no_list_at_all_is_said(self) -> None:
        for data, words in (
            (b"", "empty"), (b"name\nAda", "column “instrument”"),
            (b"name,instrument\n", "no rows below"), (b"PK\x03\x04\0\0", "can't be read"),
            (b"name,instrument\n\0", "not a CSV table"),
            (b'name,instrument\n"Ada,horn\n', "damaged"),
            (b"name,instrument\n" + b"A,horn\n" * 301, "at most 300"),
        ):  # fmt: skip
            with self.assertRaisesRegex(ValueError, words):
                roster.load(data)

    def test_the_template_can_be_imported(self) -> None:
        self.assertTrue(roster.load(roster.template()).ready)


class InstrumentTests(SimpleTestCase):
    def test_what_schools_call_them(self) -> None:
        # Common usage, no source.
        for said, meant in (
            ("Bb Clarinet", "clarinet"), ("B♭ Bass Clarinet", "bass-clarinet"),
            ("Alto Sax 1", "saxophone"), ("Eb Alto Saxophones", "saxophone"),
            ("Bari. Sax", "saxophone"), ("Trumpet in Bb", "trumpet"), ("2nd Trombone", "trombone"),
            ("Baritone T.C.", "euphonium"), ("C Flute", "flute"), ("Sousaphone", "tuba"),
            ("triangle", None), ("", None),
        ):  # fmt: skip
            self.assertEqual(instrument_of(said), meant, said)


class DateTests(SimpleTestCase):
    @given(st.dates(datetime.date(2000, 1, 1), datetime.date(2068, 12, 31)))
    def test_every_way_of_writing_a_day_means_that_day(self, day: datetime.date) -> None:
        for text, order in (
            (day.isoformat(), "month"), (f"{day.month}/{day.day}/{day.year}", "month"),
            (f"{day.day}/{day.month}/{day:%y}", "day"),
            (f"{day.day}.{day.month}.{day.year}", "month"),
            (f"{day:%d %B %Y}", "month"), (f"{day:%b %d, %Y}", "month"),
        ):  # fmt: skip
            self.assertEqual(dates.read(text, order), day, text)  # type: ignore[arg-type]

    def test_what_reads_either_way_is_asked_unless_another_row_tells(self) -> None:
        head, doubt = b"name,instrument,consent\nAda,horn,3/4/2026\n", b"Bo,tuba,28/8/2026\n"
        self.assertTrue(roster.load(head).asks)
        self.assertFalse(roster.load(head, order="month").asks)
        told = roster.load(head + doubt)
        self.assertEqual((told.asks, told.lines[0].facts["consent_on"]),
                         (False, datetime.date(2026, 4, 3)))  # fmt: skip

    def test_parts_of_dates_are_none(self) -> None:
        for text in ("soon", "2026", "August", "31/31/2026", "8/28", "Aug 28"):
            with self.assertRaises(ValueError, msg=text):
                dates.read(text)
