"""Edits of a take: taken back and done again, two windows, the teacher's own findings."""

from __future__ import annotations

from typing import Any

from django.test import tag
from django.urls import reverse

from sulvet.core.language import speaking
from sulvet.takes import analysis, history
from sulvet.takes.models import Mark, Take
from tests.base import BandTestCase
from tests.records.base import RecordCase

HOLD = {"name": "hold", "start": 2.2, "end": 3.9}
REST = {"name": "rest", "start": 0.0, "end": 0.9}


class EditCase(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.made = self.add_ready()

    def put(self, name: str, body: Any = None, expect: int = 200, method: str = "put") -> Any:
        return self.sent(method, reverse(name, args=[self.made.pk]), body, expect)

    def page(self) -> Any:
        return self.client.get(reverse("take", args=[self.made.pk])).json()


@tag("database")
class UndoTests(EditCase):
    def test_what_is_kept_is_english_whoever_asks(self) -> None:
        take = self.add_ready()
        with speaking("de"):
            covered = analysis.make(take).analysis.coverage
        self.assertIn("Corners", covered.checked)

    def test_every_kind_of_edit_goes_back_to_the_byte_and_forth_again(self) -> None:
        ignored = ("revision", "undo", "redo")

        def stands() -> Any:
            return {k: v for k, v in self.page().items() if k not in ignored}

        states = [stands()]
        for name, body, method in (
            ("phases", {"phases": [REST, HOLD]}, "put"),
            ("decisions", {"fault": "smile", "phase": "hold", "answer": "confirmed"}, "put"),
            ("decisions", {"fault": "puffed-cheeks", "phase": "hold", "answer": "added"}, "put"),
            ("focus", {"fault": "puffed-cheeks"}, "put"),
            ("observations", {"seen": ["air-only", "presses"]}, "put"),
            ("scale", {"known_mm": 12.5}, "put"),
            ("take", {"read": True}, "patch"),
        ):
            self.put(name, body, method=method)
            states.append(stands())
            self.assertNotEqual(states[-1], states[-2], name)
        for state in reversed(states[:-1]):
            self.put("undo", method="post")
            self.assertEqual(stands(), state)
        self.assertIn("Nothing to undo", self.put("undo", None, 400, "post")["detail"])
        for state in states[1:]:
            self.put("undo")
            self.assertEqual(stands(), state)
        self.assertIn("Nothing to redo", self.put("undo", None, 400)["detail"])

    def test_marks_go_back_and_a_new_edit_ends_what_could_be_done_again(self) -> None:
        self.made = self.add_take(state=Take.State.NEEDS_MARKS, width=600, height=600,
                                  frame_times=[0.0, 0.1, 0.2])  # fmt: skip
        marks = [{"landmark": name, "frame": 1, "x": 100 + 30 * n, "y": 50} for n, name in
                 enumerate(("ch_r", "ch_l"))]  # fmt: skip
        page = self.put("marks", {"marks": marks})
        self.assertEqual([m["x"] for m in page["marks"]], [130, 100])
        self.assertEqual(page["undo"], "2 marks placed")
        page = self.put("marks", {"marks": [{**marks[0], "x": 90}]})
        page = self.put("undo", method="post")
        self.assertEqual([m["x"] for m in page["marks"]], [130, 100])
        self.assertEqual(page["redo"], "right mouth corner placed")
        page = self.put("marks", {"marks": [{**marks[1], "x": 95}]})
        self.assertIsNone(page["redo"])
        page = self.put("undo", method="post")
        page = self.put("undo", method="post")
        self.assertEqual((page["marks"], page["undo"]), ([], None))

    def test_what_changes_nothing_is_no_edit_and_old_ones_are_let_go(self) -> None:
        self.put("observations", {"seen": []})
        self.assertIsNone(self.page()["undo"])
        self.made.refresh_from_db()
        for n in range(history.KEPT + 3):
            with history.recorded(self.made, f"known length {n}", None, "known_mm"):
                self.made.known_mm = 5.0 + n
                self.made.save(update_fields=["known_mm"])
        self.assertEqual(self.made.edits.count(), history.KEPT)
        self.assertEqual(self.page()["undo"], f"known length {history.KEPT + 2}")


@tag("database")
class TwoWindowsTests(EditCase):
    def test_an_edit_begun_on_an_older_state_is_refused_and_changes_nothing(self) -> None:
        address = reverse("observations", args=[self.made.pk])
        seen = self.page()["revision"]

        def edit(what: str, revision: str) -> Any:
            return self.client.put(address, {"seen": [what]}, content_type="application/json",
                                   headers={"If-Match": revision})  # fmt: skip

        first = edit("airy", f'"{seen}"')
        self.assertEqual((first.status_code, first.json()["revision"]), (200, seen + 1))
        late = edit("air-only", f'"{seen}"')
        self.assertEqual(late.status_code, 412)
        self.assertIn("changed in another window", late.json()["detail"])
        self.made.refresh_from_db()
        self.assertEqual(self.made.observations, ["airy"])
        self.assertEqual(edit("air-only", str(seen + 1)).status_code, 200)
        self.assertEqual(edit("air-only", "yesterday").status_code, 400)

    def test_a_refused_edit_uses_no_revision_up(self) -> None:
        seen = self.page()["revision"]
        self.put("observations", {"seen": ["ghosts"]}, 400)
        self.assertEqual(self.page()["revision"], seen)


@tag("database")
class OwnFindingsTests(EditCase):
    def test_a_finding_of_the_teachers_own_stands_among_the_others_and_can_be_the_focus(
        self,
    ) -> None:
        addable = [f["fault"] for f in self.page()["addable"]]
        self.assertIn("puffed-cheeks", addable)
        # Found already, and nothing a horn has.
        self.assertNotIn("smile", addable)
        self.assertNotIn("plate-high", addable)
        body = {"fault": "puffed-cheeks", "phase": "hold", "answer": "added", "reason": "seen"}
        page = self.put("decisions", body)
        found = {f["fault"]: f for f in page["findings"]}
        self.assertEqual(found["puffed-cheeks"]["verdict"], "added")
        self.assertTrue(found["smile"]["focus"])
        page = self.put("focus", {"fault": "puffed-cheeks"})
        self.assertTrue(next(f for f in page["findings"] if f["focus"])["verdict"] == "added")
        self.assertEqual(page["take"]["focus"], "puffed-cheeks")
        # Taken away, the order of fixing decides again.
        page = self.put("decisions", {**body, "answer": ""})
        self.assertEqual((page["take"]["focus"], len(page["findings"])), ("smile", 1))

    def test_what_can_not_be_is_refused_with_a_sentence(self) -> None:
        added = {"phase": "hold", "answer": "added"}
        for body, told in (({"fault": "smile"}, "already found this"),
                           ({"fault": "hiccups"}, "from the list"),
                           ({"fault": "pucker", "phase": "noon"}, "from the list")):  # fmt: skip
            self.assertIn(told, self.put("decisions", {**added, **body}, 400)["detail"])
        self.assertIn("of this take can be", self.put("focus", {"fault": "pucker"}, 400)["detail"])
        self.put("decisions", {"fault": "smile", "phase": "hold", "answer": "dismissed",
                               "reason": "laughed"})  # fmt: skip
        self.assertIn("of this take can be", self.put("focus", {"fault": "smile"}, 400)["detail"])

    def test_observations_are_those_of_the_instrument_and_carry_their_caution(self) -> None:
        listed = {o["id"]: o for o in self.page()["observations"]}
        self.assertIn("presses", listed)
        self.assertNotIn("teeth-off", listed)
        self.assertIn("Stop for today", listed["pain"]["caution"])
        page = self.put("observations", {"seen": ["pain"]})
        self.assertEqual([o["id"] for o in page["observations"] if o["seen"]], ["pain"])


@tag("database")
class LookTests(EditCase):
    def test_a_preview_measures_a_dragged_mark_and_stores_nothing(self) -> None:
        page = self.page()
        frame = round(3.0 / page["times"][1])
        track = {t["landmark"]: t for t in page["tracks"]}
        corners = [{"landmark": n, "frame": frame, "x": track[n]["x"][frame],
                    "y": track[n]["y"][frame]} for n in ("ch_r", "ch_l")]  # fmt: skip
        rise = next(s for s in page["series"] if s["measure"] == "corner_rise")["value"][frame]
        body = {"frame": frame, "marks": []}
        now = self.put("preview", body, method="post")
        self.assertAlmostEqual(now["values"]["corner_rise"], rise, places=2)
        lower = [{**c, "y": c["y"] + 10} for c in corners]
        now = self.put("preview", {**body, "marks": lower}, method="post")
        self.assertLess(now["values"]["corner_rise"], rise - 5)
        self.assertFalse(Mark.objects.filter(source=Mark.Source.PLACED).exists())
        self.assertEqual(self.page(), page)
        odd = self.put("preview", {"frame": 99999, "marks": []}, 400, "post")
        self.assertIn("no frame", odd["detail"])

    def test_staves_come_in_the_order_of_fixing_with_what_a_fault_rests_on(self) -> None:
        shown = [s["measure"] for s in self.page()["series"] if s["shown"]]
        self.assertEqual(shown, ["corner_rise", "mouth_width", "stillness", "head_roll"])


@tag("database")
class SlipTests(RecordCase):
    def test_a_corner_marked_on_the_other_is_a_slip_of_the_hand(self) -> None:
        """The clip is found whole, and said to be; the marks are what can't be."""
        take = self.from_demo("edda-front-16", 1, self.student)
        marks = [{"landmark": name, "frame": frame, "x": 300.0, "y": 200.0}
                 for name in ("ch_r", "ch_l") for frame in range(0, 40, 4)]  # fmt: skip
        before = take.marks.count()
        answer = self.client.put(
            reverse("marks", args=[take.pk]), {"marks": marks}, content_type="application/json"
        )
        self.assertEqual(answer.status_code, 400)
        self.assertIn("marked on the same point", answer.json()["detail"])
        self.assertEqual(take.marks.count(), before)
