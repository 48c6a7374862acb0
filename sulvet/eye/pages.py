"""Pages of practising the eye; reads only."""

from __future__ import annotations

from collections import Counter

from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils import timezone

from sulvet.core.eye import score
from sulvet.core.eye.library import ALIKE, RIGHT, Loop, by_id, faults_on, filmed_on, library
from sulvet.core.eye.rounds import choose
from sulvet.core.eye.schema import SeenFrom, cases, figures
from sulvet.core.eye.score import Answer, FaultScore, Sensitivity
from sulvet.core.judgement.agreement import Kappa
from sulvet.core.judgement.common import common
from sulvet.core.judgement.standards import shipped_standard, shipped_standards
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
    )


def _row(one: FaultScore) -> FaultRow:
    trials = one.trials
    return FaultRow(
        common().fault(one.fault).name, trials.hits, trials.present, trials.alarms, trials.absent,
        _sensitivity(one.sensitivity), _bias(one.sensitivity), _seen_at(one.seen_at),
    )  # fmt: skip


def _sensitivity(found: Sensitivity | None) -> str:
    if found is None:
        return ""
    return f"{found.value:.1f} ({found.low:.1f} to {found.high:.1f})".replace("-", "−")


def _bias(found: Sensitivity | None) -> str:
    if found is None:
        return ""
    if abs(found.bias) < figures().score.biased:
        return "balanced"
    return "said too rarely" if found.bias > 0 else "said too often"


def _seen_at(amount: float | None) -> str:
    if amount is None:
        return ""
    degrees = cases().degrees
    nearest = min(range(len(degrees)), key=lambda n: abs(degrees[n] - amount))
    return f"from {DEGREES[nearest]} on"


def _weeks(rounds: list[EyeRound]) -> list[WeekRow]:
    judged: Counter[str] = Counter()
    right: Counter[str] = Counter()
    for one in rounds:
        day = timezone.localtime(one.started_at).isocalendar()
        week = f"{day.year}, week {day.week}"
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
    figures = f"kappa {agreed.value:.2f}, {agreed.low:.2f} to {agreed.high:.2f}".replace("-", "−")
    return f"On {count} takes you saw twice you agree with yourself: {figures}."


def _practise(scores: list[FaultScore]) -> str:
    if not scores:
        return ""
    worst = scores[0]
    if score.mistakes(worst.trials) == 0:
        return "All seen so far. Try slight faults, or look-alikes."
    name = common().fault(worst.fault).name.lower()
    return f"Most to learn: {name}. It comes oftener in your next rounds."


def gallery(instrument: str) -> list[GalleryRow]:
    """What is right, and each fault in three degrees with its look-alike, from both sides."""
    own = filmed_on(known(instrument))
    mine = [one for one in library() if one.instrument == own]
    views: tuple[SeenFrom, ...] = ("front", "side")
    rows = []
    for view in views:
        here = [one for one in mine if one.view == view]
        right = [one for one in here if one.kind == RIGHT]
        rows.append(GalleryRow("As it should be", view, "", [_loop(o, "") for o in right], None))
        for fault in faults_on(own, view):
            alike = next((o for o in here if o.kind == ALIKE and o.like == fault), None)
            rows.append(
                GalleryRow(
                    common().fault(fault, shipped_standard(own).family).name, view,
                    cases().case(fault).look,
                    [_loop(o, DEGREES[o.degree or 0]) for o in here if o.faults == (fault,)],
                    None if alike is None else _loop(alike, alike.because),
                )
            )  # fmt: skip
    return rows


def _loop(one: Loop, words: str) -> GalleryLoop:
    return GalleryLoop(one.id, reverse("eye-gallery-film", args=[one.id]), words, marks_of(one))


def said(loops: list[Loop], given: list[SaidIn]) -> list[SaidIn]:
    """What was said of an open round, each take once."""
    return list({one.place: one for one in given if one.place < len(loops)}.values())
