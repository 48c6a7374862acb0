"""Slips, tables, class lists, file names, timed notes, sectionals: what goes out and comes in."""

from __future__ import annotations

import csv
import datetime
import io
from dataclasses import replace

import numpy as np
import pypdfium2
from django.test import SimpleTestCase
from hypothesis import example, given
from hypothesis import strategies as st
from PIL import Image
from pypdf import PdfReader

from sulvet.core.formats import clip_names, slip, tables, vtt
from sulvet.core.formats.slip_content import Picture, Slip, Steps, StripDay
from sulvet.core.judgement.sectionals import Member, groups_of, rotation
from tests.core.drawing.test_drawing import drawn


def picture(tone: int) -> bytes:
    out = io.BytesIO()
    Image.fromarray(np.full((300, 320, 3), tone, np.uint8)).save(out, "JPEG")
    return out.getvalue()


DAY = datetime.date(2026, 11, 26)
DRILL = Steps(
    "Mirror form",
    3,
    "With the lips alone; five times",
    ("Look into a mirror.", "Hold it to ten."),
    "It stays.",
)
SLIP = Slip(
    student="Zoë Łukaszewicz",
    about="Horn, two thirds upper lip",
    made_on=DAY,
    focus="Smile",
    child="Say “oo” & keep it <there>.",
    pictures=(Picture(picture(90), "Then: 12 November"), Picture(picture(150), "Now")),
    drawing=drawn(9.0, 1.13),
    values={"corner_rise_r": "9.0°", "corner_rise_l": "9.0°"},
    change="Clearly better than on 12 November.",
    figures="Corners 6.2 ± 1.1 degrees lower: clearly better.",
    drills=(DRILL,),
    days=tuple(
        StripDay(n, DAY + datetime.timedelta(n), off=n in (2, 3), recheck=n == 7)
        for n in range(1, 15)
    ),
    rechecks=(DAY + datetime.timedelta(7),),
)


def page_of(data: bytes, number: int = 0) -> Image.Image:
    document = pypdfium2.PdfDocument(data)
    try:
        image: Image.Image = document[number].render(scale=1.0).to_pil()
        return image
    finally:
        document.close()


class SlipTests(SimpleTestCase):
    def test_another_reader_finds_all_that_a_student_needs(self) -> None:
        reader = PdfReader(io.BytesIO(slip.pdf([SLIP, replace(SLIP, student="Ada")])))
        self.assertEqual(len(reader.pages), 2)
        text = " ".join(reader.pages[0].extract_text().split())
        for words in (
            "Zoë Łukaszewicz", "“Say “oo” & keep it <there>.”", "Then: 12 November", "9.0°",
            "Clearly better than on 12 November.", "Mirror form, 3 minutes a day",
            "Hold it to ten.", "Passed when: it stays.", "We film again on Thursday 3 December.",
            "Stop and tell your teacher",
        ):  # fmt: skip
            self.assertIn(words, text)
        self.assertEqual(len(reader.pages[0].images), 2)
        self.assertIn("Ada", reader.pages[1].extract_text())

    def test_the_same_slip_is_the_same_file(self) -> None:
        self.assertEqual(slip.pdf([SLIP]), slip.pdf([SLIP]))

    def test_whatever_it_holds_it_is_one_page_and_nothing_leaves_it(self) -> None:
        step = "A step that takes a good many words to tell. " * 2
        long = Steps("A drill", 5, "With the reed alone; ten times", (step,) * 6, "It holds.")
        for one in (
            SLIP,
            replace(SLIP, drills=(long, long), child=SLIP.child * 4),
            replace(SLIP, pictures=()),
            replace(SLIP, pictures=SLIP.pictures[:1], drawing=None, days=()),
        ):
            for paper, (wide, tall) in slip.PAPERS.items():
                data = slip.pdf([one], paper)
                self.assertEqual(len(PdfReader(io.BytesIO(data)).pages), 1)
                shown = np.asarray(page_of(data).convert("L"))
                np.testing.assert_allclose(shown.shape, (tall, wide), atol=1.0)
                ink = np.argwhere(shown < 128)
                low, high = ink.min(axis=0), ink.max(axis=0)
                self.assertTrue((low > 20).all() and high[0] < tall - 20 and high[1] < wide - 20)

    def test_on_a_grey_printer_the_lines_are_still_told_apart(self) -> None:
        # Ink on white at 4.5 : 1 at least is what WCAG 2.2, 1.4.3 asks of text.
        for color in (slip.INK, slip.FAINT, slip.BRASS):
            shares = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4
                      for c in (color.red, color.green, color.blue)]  # fmt: skip
            light = 0.2126 * shares[0] + 0.7152 * shares[1] + 0.0722 * shares[2]
            self.assertGreater(1.05 / (light + 0.05), 4.5)
        dashes = {pen: dash for pen, (_, _, dash) in slip.PENS.items()}
        self.assertNotEqual(dashes["rest"], dashes["lips"])


class TableTests(SimpleTestCase):
    @given(st.lists(st.lists(st.text(st.characters(exclude_categories=["Cs", "Cc"])), min_size=3,
                             max_size=3), max_size=5))  # fmt: skip
    @example([["=", "'=", "'"]])
    def test_the_standard_reader_gives_the_cells_back(self, rows: list[list[str]]) -> None:
        data = tables.dump(["a", "b,", 'c"'], rows)
        back = list(csv.reader(io.StringIO(data.decode("utf-8-sig"), newline="")))
        self.assertEqual(back[0], ["a", "b,", 'c"'])
        written = [["'" + c if c.startswith(tables.FORMULA) else c for c in row] for row in rows]
        self.assertEqual(back[1:], written)

    def test_no_name_becomes_a_formula_and_figures_stay_figures(self) -> None:
        data = tables.dump(["name", "value"], [["=HYPERLINK(1)", -2.5], [None, 3]])
        self.assertEqual(
            data.decode("utf-8-sig").splitlines(), ["name,value", "'=HYPERLINK(1),-2.5", ",3"]
        )


class ClipNameTests(SimpleTestCase):
    STUDENTS = {
        1: clip_names.Player("Carla Nuñez-Hofer", "side"), 2: clip_names.Player("Edda Marschall"),
        3: clip_names.Player("Edda Solheim"),
    }  # fmt: skip

    def test_names_views_days_and_purposes_are_read(self) -> None:
        for file, student, view, purpose, day in (
            ("Carla.mp4", 1, "side", "check", ""),
            ("Carla_Front.mp4", 1, "front", "check", ""),
            ("week2/nunez_hofer-SIDE.MOV", 1, "side", "check", ""),
            ("edda_solheim_recheck_2026-11-20.webm", 3, "front", "recheck", "2026-11-20"),
            ("20261120 Marschall profile.mp4", 2, "side", "check", "2026-11-20"),
            # As the page of a link calls its clips.
            ("edda-side-no3.mov", 3, "side", "check", ""),
        ):
            (found,) = clip_names.match([file], self.STUDENTS)
            self.assertEqual(
                (found.student, found.view, found.purpose, found.filmed_on, found.why),
                (student, view, purpose, day, ""),
            )

    def test_what_is_not_sure_is_left_to_the_teacher(self) -> None:
        for file, words in (
            ("edda.mp4", "More than one"), ("IMG_0042.mp4", "no student's name"),
            ("carla.txt", "Not a video"), ("edda-no99.mp4", "More than one"),
            ("take-no4.mp4", "no student's name"),
        ):  # fmt: skip
            (found,) = clip_names.match([file], self.STUDENTS)
            self.assertIsNone(found.student)
            self.assertIn(words, found.why)


class NotesFileTests(SimpleTestCase):
    @given(st.lists(st.tuples(st.integers(0, 59_000), st.text("aä&<> -'\n", min_size=1)),
                    max_size=6, unique_by=lambda row: row[0]))  # fmt: skip
    def test_what_goes_out_comes_in(self, rows: list[tuple[int, str]]) -> None:
        notes = [
            vtt.TimedNote(ms / 1000, "\n".join(line for line in words.splitlines() if line.strip()))
            for ms, words in sorted(rows)
            if words.strip()
        ]
        notes = [note for note in notes if "-->" not in note.text]
        back = vtt.load(vtt.dump(notes, 60.0))
        self.assertEqual([round(n.seconds, 3) for n in back], [n.seconds for n in notes])
        self.assertEqual([n.text.split() for n in back], [n.text.split() for n in notes])

    def test_what_is_no_notes_file_is_said_and_nothing_is_left_out(self) -> None:
        for text, words in (
            ("", "not a WebVTT file"), ("1\n00:01", "not a WebVTT file"),
            ("WEBVTT\n\n00:01 --> later\nlost\n\n00:01.000 --> 00:02.000\nkept\n", "only 1"),
        ):  # fmt: skip
            with self.assertRaisesRegex(vtt.NotesFileError, words):
                vtt.load(text)


members = st.lists(
    st.tuples(st.sampled_from(["Horns", "Flutes", "Tubas"]),
              st.sampled_from([("rim-low", 0), ("smile", 5), ("bunched-chin", 7)])),
    max_size=40,
)  # fmt: skip


class SectionalTests(SimpleTestCase):
    @given(members, st.integers(1, 4), st.integers(0, 4))
    def test_everybody_comes_once_and_no_group_is_too_large(
        self, rows: list[tuple[str, tuple[str, int]]], least: int, more: int
    ) -> None:
        everybody = [Member(n, f"S{n}", section, fault, rank)
                     for n, (section, (fault, rank)) in enumerate(rows)]  # fmt: skip
        found = groups_of(everybody, least, least + more)
        groups = found.groups
        self.assertEqual(
            sorted([m.student for g in groups for m in g.members] +
                   [m.student for m in found.singles]),
            list(range(len(rows))),
        )  # fmt: skip
        for group in groups:
            self.assertTrue(least <= len(group.members) <= least + more)
            self.assertEqual({m.fault for m in group.members}, {group.fault})
        # What is most pressing comes first.
        ranks = [g.members[0].rank for g in groups]
        self.assertEqual(ranks, sorted(ranks))
        for fault in {g.fault for g in groups}:
            sizes = [len(g.members) for g in groups if g.fault == fault]
            self.assertLessEqual(max(sizes) - min(sizes), 1)
            # Nobody is left over where one more group would do.
            self.assertLess(sum(m.fault == fault for m in found.singles), least)

    @given(st.integers(0, 30), st.integers(1, 20), st.integers(1, 90), st.integers(1, 5))
    def test_no_room_is_taken_twice_and_nobody_stays_too_long(
        self, count: int, minutes: int, total: int, stations: int
    ) -> None:
        groups = groups_of(
            [Member(n, str(n), "Horns", f"f{n}", n) for n in range(count)], 1, 1
        ).groups
        plan = rotation(groups, minutes, total, stations)
        self.assertEqual(
            sorted([t.group for t in plan.turns] + list(plan.left)), list(range(count))
        )
        self.assertEqual(len({(t.station, t.start) for t in plan.turns}), len(plan.turns))
        for turn in plan.turns:
            self.assertEqual(turn.end - turn.start, minutes)
            self.assertLessEqual(turn.end, total)
        self.assertTrue(not plan.left or len(plan.turns) == total // minutes * stations)

    def test_sizes_that_contradict_each_other_are_refused(self) -> None:
        with self.assertRaisesRegex(ValueError, "minimum can't be larger"):
            groups_of([], 5, 3)
