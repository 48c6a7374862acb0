"""Pages of practising the eye; reads only."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from typing import get_args

from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils import timezone

from sulvet.core.eye import score
from sulvet.core.eye.catalogue import by_id, fault_name, faults_on, shown_on, where_to_look
from sulvet.core.eye.loop import ALIKE, RIGHT, Loop
from sulvet.core.eye.rounds import choose
from sulvet.core.eye.schema import Shown, cases, figures
from sulvet.core.eye.score import Answer, FaultScore, Sensitivity
from sulvet.core.judgement.agreement import Kappa, kappa
from sulvet.core.judgement.common import common
from sulvet.core.judgement.standards import shipped_standard, shipped_standards
from sulvet.core.language import gettext_noop, inside, said
from sulvet.eye.judged import DEGREES, items, known, marks_of, summary_of
from sulvet.eye.models import EyeRound
from sulvet.eye.shapes import (
    EyePage,
    FaultRow,
    GalleryLoop,
    GalleryRow,
    Named,
    OpenRound,
    RoundPage,
    SaidIn,
    WeekRow,
)
from sulvet.takes.first_said import first_looks


def rounds_of(teacher: User) -> QuerySet[EyeRound]:
    """A teacher's own rounds, the newest first."""
    return EyeRound.objects.filter(teacher=teacher)


def round_of(teacher: User, number: int) -> EyeRound:
    """One of them; 404 for anybody else's."""
    return get_object_or_404(rounds_of(teacher).prefetch_related("answers"), pk=number)


def loops_of(one: EyeRound) -> list[Loop]:
    """The loops of a round; one that a newer library has not is left out."""
    there = by_id()
    return [there[number] for number in one.loops if number in there]


def answers_of(one: EyeRound) -> dict[int, Answer]:
    """Place → what was said."""
    loops = loops_of(one)
    return {
        row.place: Answer(loops[row.place], frozenset(row.faults), row.untold)
        for row in one.answers.all()
        if row.place < len(loops)
    }


def round_page(one: EyeRound) -> RoundPage:
    """A round as it stands."""
    loops, answers = loops_of(one), answers_of(one)
    films = [reverse("eye-film", args=[one.pk, place]) for place in range(len(loops))]
    return RoundPage(
        one.pk, shipped_standard(one.instrument).name,
        figures().levels[one.level].name,  # type: ignore[index]
        items(loops, answers, films.__getitem__),
        summary_of(list(answers.values())) if len(answers) == len(loops) else "",
    )  # fmt: skip


def open_round(token: str, lot: int, instrument: str, level: str, said: list[Answer]) -> OpenRound:
    """A round of nobody's, with what was said of it so far."""
    loops = choose(known(instrument), level, lot)  # type: ignore[arg-type]
    answers = {loops.index(one.loop): one for one in said}
    films = [reverse("eye-open-film", args=[token, place]) for place in range(len(loops))]
    return OpenRound(
        shipped_standard(instrument).name,
        items(loops, answers, films.__getitem__),
        summary_of(said) if len(said) == len(loops) else "",
    )  # fmt: skip


def last_rounds(teacher: User) -> list[EyeRound]:
    """A teacher's last rounds, the newest first, with what was said."""
    by = figures()
    return list(rounds_of(teacher).prefetch_related("answers")[: by.answers // by.length])


def answers_in(rounds: list[EyeRound]) -> list[Answer]:
    """All that was said in some rounds."""
    return [answer for one in rounds for answer in answers_of(one).values()]


def errs_of(answers: list[Answer]) -> dict[str, float]:
    """Fault → how often it was judged wrongly."""
    return {one.fault: score.mistakes(one.trials) for one in score.by_fault(answers)}


def eye_page(teacher: User) -> EyePage:
    """What may be practised, and how well one sees."""
    rounds = last_rounds(teacher)
    scores = score.by_fault(answers_in(rounds))
    begun = next((one for one in rounds[:1] if len(one.answers.all()) < len(one.loops)), None)
    return EyePage(
        instruments=[Named(s.instrument, s.name) for s in shipped_standards().values()],
        levels=[Named(one, mix.name) for one, mix in figures().levels.items()],
        open=None if begun is None else begun.pk,
        faults=[_row(one) for one in scores if one.trials.present],
        weeks=_weeks(rounds),
        oneself=_oneself(rounds),
        practise=_practise(scores),
        own=_own(teacher),
    )


def _row(one: FaultScore) -> FaultRow:
    trials = one.trials
    return FaultRow(
        one.name, trials.hits, trials.present, trials.alarms, trials.absent,
        _sensitivity(one.sensitivity), _bias(one.sensitivity), _seen_at(one.seen_at),
    )  # fmt: skip


def _sensitivity(found: Sensitivity | None) -> str:
    if found is None:
        return ""
    return said(
        "{value:.1f} ({low:.1f} to {high:.1f})", value=found.value, low=found.low, high=found.high
    ).replace("-", "−")


def _bias(found: Sensitivity | None) -> str:
    if found is None:
        return ""
    if abs(found.bias) < figures().score.biased:
        return said("balanced")
    return said("said too rarely" if found.bias > 0 else "said too often")


def _seen_at(amount: float | None) -> str:
    if amount is None:
        return ""
    degrees = cases().degrees
    nearest = min(range(len(degrees)), key=lambda n: abs(degrees[n] - amount))
    return said("from {degree} on", degree=said(DEGREES[nearest]))


def _weeks(rounds: list[EyeRound]) -> list[WeekRow]:
    judged: Counter[str] = Counter()
    right: Counter[str] = Counter()
    for one in rounds:
        day = timezone.localtime(one.started_at).isocalendar()
        week = said("{year}, week {week}", year=day.year, week=day.week)
        for answer in answers_of(one).values():
            judged[week] += 1
            right[week] += answer.right
    return [WeekRow(week, count, right[week]) for week, count in reversed(judged.items())]


def _oneself(rounds: list[EyeRound]) -> str:
    first: dict[str, Answer] = {}
    pairs = []
    for one in reversed(rounds):
        for answer in answers_of(one).values():
            before = first.get(answer.loop.id)
            if before is not None:
                pairs.append((before, answer))
            first[answer.loop.id] = answer
    agreed = score.with_oneself(pairs)
    return "" if agreed is None else _kappa(agreed, len(pairs))


def _kappa(agreed: Kappa, count: int) -> str:
    return said(
        "On {count} takes you saw twice you agree with yourself: {figures}.",
        count=count,
        figures=_figures(agreed),
    )


def _figures(agreed: Kappa) -> str:
    return said(
        "agreement {value:.2f}, {low:.2f} to {high:.2f}",
        value=agreed.value,
        low=agreed.low,
        high=agreed.high,
    ).replace("-", "−")


def _own(teacher: User) -> str:
    looks = first_looks(teacher)
    agreed = kappa(looks.counts)
    if agreed is None:
        return ""
    told = [
        said(
            "On {takes} takes of your students you looked first: {figures}",
            takes=looks.takes,
            figures=_figures(agreed),
        )
    ]
    for words, faults in (
        (gettext_noop("Most often passed over"), looks.missed),
        (gettext_noop("Most often named without it"), looks.invented),
    ):
        if faults:
            fault, times = faults.most_common(1)[0]
            told.append(f"{said(words)}: {inside(common().fault(fault).name)} ({times})")
    return ". ".join(told) + "."


def _practise(scores: list[FaultScore]) -> str:
    if not scores:
        return ""
    worst = scores[0]
    if score.mistakes(worst.trials) == 0:
        return said("All seen so far. Try slight faults, or look-alikes.")
    return said(
        "Most to learn: {fault}. It comes oftener in your next rounds.", fault=inside(worst.name)
    )


def _film(one: Loop) -> str:
    return reverse("eye-gallery-film", args=[one.id])


def gallery(instrument: str, film: Callable[[Loop], str] = _film) -> list[GalleryRow]:
    """What is right, and each fault in three degrees with its look-alike, from both sides and by
    ear.

    film  where the film of a loop is served
    """
    mine = shown_on(known(instrument))
    views: tuple[Shown, ...] = get_args(Shown)
    return [row for view in views for row in _rows(instrument, view, mine, film)]


def _rows(
    instrument: str, view: Shown, mine: list[Loop], film: Callable[[Loop], str]
) -> list[GalleryRow]:
    def shown(one: Loop, words: str) -> GalleryLoop:
        return GalleryLoop(one.id, film(one), words, marks_of(one))

    here = [one for one in mine if one.view == view]
    right = [shown(one, "") for one in here if one.kind == RIGHT]
    rows = [GalleryRow(said("As it should be"), view, "", right, None)]
    for fault in faults_on(instrument, view):
        alike = next((one for one in here if one.kind == ALIKE and one.like == fault), None)
        rows.append(
            GalleryRow(
                fault_name(fault, instrument), view, where_to_look(fault),
                [
                    shown(one, said(DEGREES[one.degree or 0]))
                    for one in here
                    if one.faults == (fault,)
                ],
                None if alike is None else shown(alike, alike.because),
            )
        )  # fmt: skip
    return rows


def each_once(loops: list[Loop], given: list[SaidIn]) -> list[SaidIn]:
    """What was said of an open round, each take once."""
    return list({one.place: one for one in given if one.place < len(loops)}.values())
