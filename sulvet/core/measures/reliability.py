"""How well measurers agree, with themselves and with one another."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Floats


def technical_error(first: Floats, second: Floats) -> float:
    """Technical error of measurement of a hand that measured everything twice.

    first, second  (N,) the same things measured in two rounds

    sqrt(sum d² / 2 N): the standard deviation of one measurement. S. J. Ulijaszek and
    D. A. Kerr, Br J Nutr 82 (1999) (from memory). ValueError for rounds that do not match.

    >>> technical_error(np.array([1.0, 2.0]), np.array([2.0, 1.0]))
    0.7071067811865476
    """
    if first.shape != second.shape or not len(first):
        raise ValueError("two rounds of the same things are needed")
    return float(np.sqrt(((first - second) ** 2).sum() / (2 * len(first))))


@dataclass(frozen=True)
class Intraclass:
    """The six intraclass correlations of Shrout and Fleiss; the k forms are of the mean.

    one_way     judges drawn anew for each subject: ICC(1,1) and ICC(1,k)
    two_way     the same judges, drawn from many: ICC(2,1) and ICC(2,k)
    fixed       these judges and no others: ICC(3,1) and ICC(3,k)
    """

    one_way: tuple[float, float]
    two_way: tuple[float, float]
    fixed: tuple[float, float]


def intraclass(ratings: Floats) -> Intraclass:
    """Intraclass correlations of (subjects, judges) ratings.

    P. E. Shrout and J. L. Fleiss, Psychological Bulletin 86 (1979), 420-428. ValueError
    for fewer than two subjects or judges.
    """
    subjects, judges = ratings.shape
    if subjects < 2 or judges < 2:
        raise ValueError("at least two subjects and two judges are needed")
    mean = ratings.mean()
    of_subjects, of_judges = ratings.mean(axis=1), ratings.mean(axis=0)
    between = judges * ((of_subjects - mean) ** 2).sum() / (subjects - 1)
    within = ((ratings - of_subjects[:, None]) ** 2).sum() / (subjects * (judges - 1))
    among = subjects * ((of_judges - mean) ** 2).sum() / (judges - 1)
    left = ratings - of_subjects[:, None] - of_judges + mean
    error = (left**2).sum() / ((subjects - 1) * (judges - 1))
    return Intraclass(
        (
            float((between - within) / (between + (judges - 1) * within)),
            float((between - within) / between),
        ),
        (
            float(
                (between - error)
                / (between + (judges - 1) * error + judges * (among - error) / subjects)
            ),
            float((between - error) / (between + (among - error) / subjects)),
        ),
        (
            float((between - error) / (between + (judges - 1) * error)),
            float((between - error) / between),
        ),
    )
