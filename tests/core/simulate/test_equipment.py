"""What is held to the mouth: placed as said, and its truth on what is drawn."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.simulate import clip
from sulvet.core.simulate.body import Body
from sulvet.core.simulate.equipment import AnyEquipment, Cup, Reed
from sulvet.core.simulate.mouth import SEAM
from sulvet.core.simulate.truth import landmarks, measures
from tests.core.simulate.builders import held, script


class EquipmentTests(SimpleTestCase):
    def test_placement_measures_as_it_was_asked_for(self) -> None:
        for share in (0.35, 0.5, 0.67, 0.85):
            posed, cup = held("horn", upper_share=share, offset=2.0)
            truth = measures(posed, landmarks(posed, cup), cup)
            # The rim presses the lips a little along its own axis.
            self.assertAlmostEqual(truth["rim_upper_share"], share, delta=0.035)
            self.assertAlmostEqual(truth["rim_offset"], 2.0, delta=0.01)
        # Two thirds of the outer rim are about 0.74 of the cup on a horn.
        self.assertAlmostEqual(
            measures(*_with(held("horn", upper_share=0.667)))["cup_upper_share"], 0.74, delta=0.02
        )
        for kind, depth in (("clarinet", 12.7), ("saxophone", 15.0), ("bassoon", 16.0)):
            truth = measures(*_with(held(kind, depth=depth)))
            # Where the lip truly ends up, a little behind or before where it was meant to.
            self.assertAlmostEqual(truth["depth"], depth, delta=2.0, msg=kind)
        truth = measures(*_with(held("flute", hole_to_lip=2.0, tilt=6.0)))
        self.assertAlmostEqual(truth["plate_tilt"], 6.0, delta=0.5)
        lower = measures(*_with(held("flute", hole_to_lip=5.0, tilt=6.0)))
        # From the border at rest; the lip itself moves when it plays.
        self.assertAlmostEqual(lower["hole_to_lip"] - truth["hole_to_lip"], 3.0, delta=0.3)
        self.assertTrue(0 <= truth["hole_cover"] <= 1)

    def test_lips_are_pushed_out_of_what_is_held(self) -> None:
        for kind in ("horn", "trombone", "clarinet", "saxophone", "bassoon"):
            for name in ("ada", "chidi", "hana"):
                posed, it = held(kind, name)
                outer = posed.lips[: SEAM + 1]
                side, up, out = it.frame.local(outer)
                if isinstance(it, Cup):
                    radius = np.hypot(side, up)
                    deep = np.where(np.abs(radius - (it.outer + it.inner) / 2) < 1.5, out, -9)
                    self.assertLess(float(deep.max()), 0.4, (kind, name))
                else:
                    assert isinstance(it, Reed)
                    half, top, bottom = it._section(np.clip(out, 0, 60))
                    inside = (np.abs(side) < half * 0.7) & (out > 1)
                    under = np.minimum(top * 0.75 - up, up - bottom * 0.75)
                    self.assertLess(float(np.where(inside, under, -9).max()), 0.5, (kind, name))

    def test_what_is_behind_a_rim_is_hidden_and_corners_are_not(self) -> None:
        truth = clip.moment_truth(script(), 18)
        for name in ("ls", "li", "sto_s"):
            self.assertFalse(truth.seen[name], name)
        for name in ("ch_r", "ch_l", "ex_r", "ex_l", "sn", "al_r", "al_l"):
            self.assertTrue(truth.seen[name], name)


def _with(pair: tuple[Body, AnyEquipment]) -> tuple[Body, Any, AnyEquipment]:
    return pair[0], landmarks(*pair), pair[1]
