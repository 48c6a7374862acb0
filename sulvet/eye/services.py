"""Writes of practising the eye."""

from __future__ import annotations

import secrets

from django.contrib.auth.models import User
from django.core.signing import BadSignature, Signer

from sulvet.accounts.errors import Conflict, Refused
from sulvet.core.eye.rounds import LEVELS, choose
from sulvet.core.eye.schema import Level, figures
from sulvet.eye import pages
from sulvet.eye.judged import checked, known
from sulvet.eye.models import EyeAnswer, EyeRound
from sulvet.eye.shapes import SaidIn

_signer = Signer(salt="sulvet.eye")
NO_ROUND = "This address leads to no round. Ask whoever gave it to you for another one."


def begin(teacher: User, instrument: str, level: Level) -> EyeRound:
    """A new round, chosen by where the teacher errs; one that was not finished stays as it is."""
    errs = pages.errs_of(pages.answers_in(pages.last_rounds(teacher)))
    before = pages.rounds_of(teacher)[: figures().lately]
    lately = {number for one in before for number in one.loops}
    chosen = choose(known(instrument), level, secrets.randbelow(2**31), errs, lately)
    return EyeRound.objects.create(
        teacher=teacher, instrument=instrument, level=level, loops=[one.id for one in chosen]
    )


def say(one: EyeRound, said: SaidIn) -> None:
    """What is said of a loop, once: then its truth is known."""
    answer = checked(pages.loops_of(one), said)
    _, fresh = EyeAnswer.objects.get_or_create(
        round=one, place=said.place,
        defaults={"faults": sorted(answer.faults), "untold": said.untold, "seconds": said.seconds},
    )  # fmt: skip
    if not fresh:
        raise Conflict("You have judged this take already.")


def token_for(instrument: str, level: Level) -> str:
    """An address for a round of anybody's: which one, signed."""
    return _signer.sign(f"{known(instrument)}:{level}:{secrets.randbelow(2**31)}")


def read_token(token: str) -> tuple[str, str, int]:
    """Instrument, level and lot of such an address; refused where it is made up."""
    try:
        instrument, level, lot = _signer.unsign(token).split(":")
        if level not in LEVELS:
            raise ValueError(level)
        return known(instrument), level, int(lot)
    except (BadSignature, ValueError):
        raise Refused(NO_ROUND) from None
