"""Groups of a workable size: everybody who can be is in one, and none is too small or too large."""

from __future__ import annotations

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.judgement.sectionals import Group, Member, groups_of, rotation


def sharing(count: int) -> list[Member]:
    return [Member(n, f"{n:02}", "Horns", "smile", 3) for n in range(count)]


class GroupTests(SimpleTestCase):
    @given(st.integers(0, 40), st.integers(1, 8), st.integers(0, 8))
    def test_sizes(self, count: int, least: int, more: int) -> None:
        most = least + more
        found = groups_of(sharing(count), least, most)
        sizes = [len(group.members) for group in found.groups]
        self.assertTrue(all(least <= size <= most for size in sizes), sizes)
        self.assertEqual(sum(sizes) + len(found.singles), count)
        self.assertLessEqual(max(sizes, default=0) - min(sizes, default=0), 1, "as even as they go")
        # Nobody is left over where some number of groups holds them all.
        fits = any(least * n <= count <= most * n for n in range(count + 1))
        self.assertEqual(not found.singles, fits)

    def test_sizes_that_contradict_each_other_are_refused(self) -> None:
        for least, most in ((0, 4), (4, 3)):
            with self.assertRaises(ValueError):
                groups_of(sharing(5), least, most)

    def test_a_turn_that_would_end_late_is_left_out(self) -> None:
        plan = rotation([Group("smile", ())] * 5, 10, 25, 2)
        turns = [(t.group, t.station, t.start, t.end) for t in plan.turns]
        self.assertEqual(turns, [(0, 0, 0, 10), (1, 1, 0, 10), (2, 0, 10, 20), (3, 1, 10, 20)])
        self.assertEqual(plan.left, (4,))
