"""Reeds: worn by what they play, one after the other, and looked at before the mouth."""

from __future__ import annotations

import datetime

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.judgement import reeds as core
from sulvet.core.judgement.common import common, observations
from sulvet.core.judgement.focus import SET_UP, Candidate, choose

DAY = datetime.date(2026, 11, 26)
BY = core.habits()


def reed(slot: int = 1, minutes: int = 0, ago: int | None = None, **more: object) -> core.Reed:
    last = None if ago is None else DAY - datetime.timedelta(days=ago)
    facts = {"strength": "2", "days": minutes // 30, **more}
    return core.Reed(slot, opened_on=DAY, minutes=minutes, last_on=last, **facts)  # type: ignore[arg-type]


reeds = st.lists(
    st.builds(
        reed, st.integers(1, 20), st.integers(0, 1200), st.none() | st.integers(0, 60),
        condition=st.sampled_from(core.CONDITIONS),
    ),
    max_size=12,
)  # fmt: skip


class LifeTests(SimpleTestCase):
    def test_a_week_of_heavy_and_a_month_of_little_playing_both_wear_a_reed_out(self) -> None:
        # Common practice, no source: about a week heavy, about a month light.
        for a_day, days in ((120, 7), (30, 28)):
            spent = reed(minutes=a_day * days)
            self.assertEqual(core.status(spent, BY), "worn")
            before = reed(minutes=a_day * (days - 1))
            self.assertNotEqual(core.status(before, BY), "worn")

    def test_what_is_seen_on_it_counts_before_what_it_has_played(self) -> None:
        for minutes, days, condition, status in (
            (0, 0, "good", "new"), (90, 3, "good", "new"), (120, 4, "good", "good"),
            (672, 22, "good", "soon"), (840, 28, "good", "worn"), (0, 0, "chipped", "chipped"),
            (900, 30, "warped", "warped"),
        ):  # fmt: skip
            one = reed(minutes=minutes, days=days, condition=condition)
            self.assertEqual(core.status(one, BY), status)

    @given(reeds)
    def test_the_next_reed_has_rested_longest_and_none_that_is_spent_is_asked_for(
        self, box: list[core.Reed]
    ) -> None:
        turn = core.rotation(box, BY)
        self.assertTrue(all(core.usable(one, BY) for one in turn))
        self.assertEqual(len(turn), sum(core.usable(one, BY) for one in box))
        last = [one.last_on or datetime.date.min for one in turn]
        self.assertEqual(last, sorted(last))

    @given(reeds)
    def test_with_what_is_bought_there_are_enough_and_not_one_more(
        self, box: list[core.Reed]
    ) -> None:
        buy = core.missing(box, BY)
        fit = sum(core.status(one, BY) in ("new", "good") for one in box)
        # Of an empty box nothing is known.
        self.assertTrue(fit + buy >= BY.least if box else buy == 0)
        self.assertTrue(buy == 0 or fit + buy == BY.least)

    def test_the_list_for_the_shop_is_by_instrument_and_strength(self) -> None:
        two, three = [reed(n, 300) for n in (1, 2)], [reed(1, 300, strength="3")]
        rows = core.shopping(
            [("Clarinet", "2", two), ("Clarinet", "3", three), ("Clarinet", "2", two),
             ("Oboe", "", [reed(n, 300) for n in range(1, 6)]), ("Clarinet", "1.5", three)],
            BY,
        )  # fmt: skip
        self.assertEqual(rows, [("Clarinet", "2", 6), ("Clarinet", "1.5", 4), ("Clarinet", "3", 4)])


class FirstLookTests(SimpleTestCase):
    def test_a_reed_is_in_doubt_while_unknown_old_or_hurt(self) -> None:
        for box, words in (
            ([], "no reed is on record"), ([reed(minutes=300, ago=9)], "no reed is on record"),
            ([reed(2, 840, ago=0)], "slot 2 has played 14 of about 14 hours"),
            ([reed(2, 300, ago=1, condition="chipped")], "slot 2 is chipped"),
            ([reed(2, 300, ago=1)], ""),
            # The one played on the day counts, not another in the box.
            ([reed(1, 840, ago=2), reed(2, 300, ago=0)], ""),
        ):  # fmt: skip
            told = core.in_doubt(box, DAY, BY)
            self.assertTrue(words in told if words else not told, told)

    def test_it_is_asked_for_by_what_is_heard_and_only_until_it_was_done(self) -> None:
        doubt = "no reed is on record for that day"
        for family, ticked, standing, told, done in (
            ("single-reed", {"airy"}, set(), doubt, "reed-fine"),
            ("single-reed", set(), {"biting"}, doubt, "reed-fine"),
            ("single-reed", {"airy"}, set(), "", None),
            ("single-reed", {"airy", "reed-fine"}, set(), doubt, None),
            ("single-reed", {"shoulders"}, {"smile"}, doubt, None),
            # Squeaks are fingers first (common practice), then the reed.
            ("single-reed", {"squeaks"}, set(), doubt, "fingers-fine"),
            ("single-reed", {"squeaks", "fingers-fine"}, set(), doubt, "reed-fine"),
            ("brass", {"dull-buzz"}, set(), doubt, "brass-fine"),
            ("flute", {"airy"}, set(), doubt, None),
        ):  # fmt: skip
            first = core.first_look(family, set(ticked), set(standing), lambda told=told: told)  # type: ignore[misc]
            self.assertEqual(first.done if first else None, done)

    def test_every_word_of_the_checks_is_known(self) -> None:
        known = {one.id for one in observations().observations}
        faults = {fault.id for fault in common().faults}
        for check in core.checks():
            self.assertLessEqual({*check.heard, check.done}, known)
            self.assertLessEqual(set(check.faults), faults)

    def test_the_equipment_comes_before_the_mouth_after_cautions_and_the_teacher(self) -> None:
        rows = [Candidate("bunched-chin", "hold")]
        focus = choose(rows, set_up="The reed first.")
        self.assertEqual((focus.fault, focus.reason, focus.why), (None, SET_UP, "The reed first."))
        self.assertEqual([w.fault for w in focus.waits], ["bunched-chin"])
        self.assertEqual(choose(rows, cautions=("pain",), set_up="x").reason, "caution")
        self.assertEqual(choose(rows, chosen="bunched-chin", set_up="x").fault, "bunched-chin")
