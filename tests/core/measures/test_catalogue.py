"""The catalogue of measures: what names one is checked; a new one is an entry and a function."""

from __future__ import annotations

import re
import shutil
import tempfile
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy import scale
from sulvet.core.anatomy.marks import Floats
from sulvet.core.data_files import DataFileError, read_table
from sulvet.core.drawing import front, lines
from sulvet.core.drawing.figure import figure
from sulvet.core.drawing.take import drawing_of
from sulvet.core.judgement import common as shared
from sulvet.core.judgement import corroboration, standards
from sulvet.core.judgement.corroboration import corroborations
from sulvet.core.judgement.drill_schema import Drills
from sulvet.core.judgement.judge import judge
from sulvet.core.judgement.results import FAULT
from sulvet.core.judgement.standards import Standard, shipped_standards
from sulvet.core.measures import catalogue as module
from sulvet.core.measures import corners
from sulvet.core.measures.catalogue import DATA, catalogue, read_catalogue
from sulvet.core.measures.view import FaceView
from tests.core.faces import PHASES, take, with_corners

CACHED = (
    module.catalogue, shared.common, shared.observations, shared.triage_causes,
    standards.shipped_standards, corroborations,
)  # fmt: skip
#: A measure from data: how far the left corner lies out, and the same again to be compared.
MEASURE = """
[[measures]]
id = "left_reach"
source = "marks"
of = "corners"
unit = "ratio"
function = "corners.left_reach"
uses = ["ch_l"]
against = "ratio"
unseen = "mouth corners"
error = { floor = 0.01 }
name = "Left reach"
stave = "Left reach"
decimals = 2
shown = "face"
explains = "How far the left corner lies out."
"""
FAULT_ROW = """
[[faults]]
id = "far-left"
group = "GROUP"
name = "Far left"
shows = "x"
why = "x"
first_help = "x"
child = "x"
drills = ["mirror-form"]
"""
RULE = """
[[rules]]
fault = "far-left"
view = "front"
phases = ["hold"]
min_seconds = 0.3
note = "A test's own rule, about nothing that matters."
all = [{ measure = "left_reach", outside = "high" }]
"""
#: An instrument from data: its own standard, the size of its rim, where it sounds.
KAZOOPHONE = """
version = 1
instrument = "kazoophone"
name = "Kazoophone"
family = "brass"
section = "Kazoophones"
arc = 3
film = ["front"]
schools = [{ id = "only", name = "Only", sentence = "There is only one." }]

[[bands]]
measure = "left_reach"
high = 1.05
watch_high = 0.02
note = "A test's own band, about nothing that matters."
"""


def left_reach(view: FaceView) -> Floats:
    """(T,) the left corner's distance from the midline, pixels of the rest scale."""
    return np.asarray(view.point("ch_l")[:, 0])


class CheckedTests(SimpleTestCase):
    def refused(self, path: Path, text: str, model: Any) -> str:
        with tempfile.TemporaryDirectory() as folder:
            copy = Path(folder) / path.name
            copy.write_text(text, "utf-8")
            with self.assertRaises(DataFileError) as told:
                read_table(copy, model)
        return str(told.exception)

    def test_what_is_measured_on_the_face_has_its_drawing_in_the_handbook(self) -> None:
        drawings = {file.stem for file in (Path(__file__).parents[3] / "docs/drawings").iterdir()}
        bare = {m.id for m in catalogue().of_source("marks") if m.drawing not in drawings}
        self.assertEqual(bare, {"head_roll", "head_yaw", "head_nod"})

    def test_a_band_or_drill_of_a_measure_there_is_not_is_refused_with_file_and_line(self) -> None:
        """Before, each of them loaded without a word."""
        for path, old, model in (
            (shared.DATA / "horn.toml", 'measure = "mouth_width"', Standard),
            (shared.DATA / "shared" / "drills.toml", 'measures = ["corner_rise', Drills),
        ):
            text = path.read_text("utf-8")
            line = text[: text.index(old)].count("\n") + 1
            told = self.refused(path, text.replace(old, old[:-1] + "x" + old[-1], 1), model)
            self.assertIn(f"{path.name}, line {line}:", told)
            self.assertIn("there is no measure “", told)

    def test_rules_and_what_is_heard_with_them_are_checked_as_well(self) -> None:
        for name, old, model in (
            ("rules.toml", 'measure = "corner_rise"', shared._Rules),
            ("corroboration.toml", 'measure = "pitch"', corroboration._File),
        ):
            path = shared.DATA / "shared" / name
            told = self.refused(
                path, path.read_text("utf-8").replace(old, 'measure = "nothing"', 1), model
            )
            self.assertRegex(told, rf"{re.escape(name)}, line \d+: .*no measure “nothing”")

    def test_so_is_a_dimension(self) -> None:
        with self.assertRaisesMessage(ValueError, "there is no such measure"):
            lines.tilt("wiggle", "ch_r", "ch_l")

    def test_an_entry_must_name_a_function_and_landmarks_that_exist(self) -> None:
        text = (DATA / "front.toml").read_text("utf-8")
        for old, new, words in (
            ('"corners.corner_rise"', '"corners.corner_fall"', "no function “corners.corner_fall”"),
            ('uses = ["ch_r", "ch_l"]', 'uses = ["ch_r", "knee"]', "no landmark “knee”"),
            ('id = "corner_rise_r"', 'id = "corner_rise"', "there are two “corner_rise”"),
            (
                'compares = "corner_rise"',
                'compares = "corner_rice"',
                "there is no measure “corner_rice”",
            ),
            ('size = "rim"', 'size = "rum"', "there is no block of sizes “rum”"),
            ("decimals = 1", "decimals = 9", "decimals"),
        ):
            with tempfile.TemporaryDirectory() as folder:
                shutil.copytree(DATA, folder, dirs_exist_ok=True)
                (Path(folder) / "front.toml").write_text(text.replace(old, new, 1), "utf-8")
                with self.assertRaises(DataFileError) as told:
                    read_catalogue(Path(folder))
            self.assertRegex(str(told.exception), rf"front\.toml, line \d+: .*{re.escape(words)}")


class ThrowAwayTests(SimpleTestCase):
    """A measure, a fault and an instrument that are only data, and one function."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        root = Path(folder.name)
        measures, judgement, sizes = root / "measures", root / "judgement", root / "sizes.toml"
        shutil.copytree(DATA, measures)
        shutil.copytree(shared.DATA, judgement)
        shutil.copy(scale.DATA, sizes)
        self.append(measures / "front.toml", MEASURE)
        faults = judgement / "shared" / "faults.toml"
        group = re.findall(r'group = "([^"]+)"', faults.read_text("utf-8"))[-1]
        self.append(faults, FAULT_ROW.replace("GROUP", group))
        self.append(judgement / "shared" / "rules.toml", RULE)
        (judgement / "kazoophone.toml").write_text(KAZOOPHONE, "utf-8")
        text = sizes.read_text("utf-8").replace(
            "[rim]\n", "[rim]\nkazoophone = { mm = 30.0, sigma = 0.5, cup = 20.0 }\n"
        )
        sizes.write_text(text, "utf-8")
        for target, name, value in (
            (corners, "left_reach", left_reach),
            (module, "DATA", measures),
            (shared, "DATA", judgement),
            (standards, "DATA", judgement),
            (scale, "DATA", sizes),
        ):
            patch = mock.patch.object(target, name, value, create=True)
            patch.start()
            self.addCleanup(patch.stop)
        self.addCleanup(self.forget)
        self.forget()

    @staticmethod
    def append(path: Path, text: str) -> None:
        path.write_text(path.read_text("utf-8") + text, "utf-8")

    @staticmethod
    def forget() -> None:
        """What was read from other files before, and is read from these now."""
        for one in (*CACHED, module.function_of, scale.sizes):
            one.cache_clear()

    def test_they_are_measured_judged_worded_and_drawn(self) -> None:
        marks = take(with_corners(0.0, 1.2))
        kazoophone = shipped_standards()["kazoophone"]
        judged = judge(marks, PHASES, kazoophone, "front", "only")
        reach = next(r for r in judged.readings if r.measure == "left_reach")
        assert reach.value is not None
        self.assertAlmostEqual(reach.value, 1.2, places=2)
        self.assertEqual(reach.verdict, FAULT)
        (found,) = [f for f in judged.findings if f.fault == "far-left"]
        self.assertEqual((found.verdict, found.evidence[0].measure), (FAULT, "left_reach"))
        self.assertEqual(catalogue().measure("left_reach").name, "Left reach")
        # The rim's own size counts for the new instrument as it does for the others.
        on_frames = {m.id for m in catalogue().on_frames("front", "kazoophone")}
        self.assertIn("cup_upper_share", on_frames)
        dimension = lines.across("left_reach", "lips_middle", "ch_l", row=2)
        with mock.patch.object(front, "DIMENSIONS", (*front.DIMENSIONS, dimension)):
            drawn = drawing_of(judged, marks, PHASES, kazoophone, "front", "only")
        assert drawn is not None
        texts = figure(drawn[0], drawn[0].hold, {"left_reach": "1.20"}).texts
        self.assertEqual([text.text for text in texts], ["1.20"])
