"""A head as a solid body: where its points go when it moves, leans and turns.

A point goes where its place in the plane of the mouth's corners goes by a similarity, and beside
it by its depth before that plane times the head's turn.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Floats


@dataclass(frozen=True)
class Solid:
    """A movement of the head.

    turned  (2, 2) and shift (2,): the similarity of the plane
    turn    (2,) how far the head is turned, to the picture's right and downward, as a sine
    """

    turned: Floats
    shift: Floats
    turn: Floats

    def moved(self, points: Floats, depth: Floats) -> Floats:
        """(N, 2) where points (N, 2) of these depths (N,) go."""
        solid = points + depth[:, None] * self.turn
        return np.asarray(solid @ self.turned.T + self.shift)


def solid_fit(
    points: Floats, there: Floats, depth: Floats, weight: Floats, prior: float
) -> Solid:  # fmt: skip
    """The movement that takes points best to where they are, by least squares.

    points, there  (N, 2); depth (N,) before the plane, in the unit of ``points``
    weight  (N,) of each point
    prior   what a turn of 1 costs, in the unit of ``there``: a turn is as likely as that says
    """
    x, y = points.T
    one, nothing = np.ones(len(points)), np.zeros(len(points))
    root = np.sqrt(weight)[:, None]
    rows = [
        np.stack([x, -y, one, nothing, depth, nothing], -1) * root,
        np.stack([y, x, nothing, one, nothing, depth], -1) * root,
        prior * np.eye(6)[4:],
    ]
    wanted = np.concatenate([there.T.ravel() * np.tile(root[:, 0], 2), [0.0, 0.0]])
    (a, b, tx, ty, *turn), *_ = np.linalg.lstsq(np.concatenate(rows), wanted, rcond=None)
    turned = np.array([[a, -b], [b, a]])
    return Solid(turned, np.array([tx, ty]), undone(turned) @ np.array(turn))


def undone(turned: Floats) -> Floats:
    """(2, 2) the way back of a rotation with a scale."""
    return np.asarray(turned.T / (turned[0] @ turned[0]))
