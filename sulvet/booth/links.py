"""Capture links: made by the teacher, good for one student, one view and some days."""

from __future__ import annotations

import datetime
import uuid

from django.core.files import File
from django.core.files.uploadedfile import UploadedFile
from django.core.signing import BadSignature, Signer
from django.db.models import F, QuerySet

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.booth.filming import Filmed, looked_at
from sulvet.booth.models import CaptureLink
from sulvet.core import clock
from sulvet.core.video.clip import MAX_BYTES
from sulvet.takes import pieces, uploads
from sulvet.takes.facts import TakeFacts, demand_filmable
from sulvet.takes.models import Take

_signer = Signer(salt="sulvet.booth.links")
#: For how many days a link may be good, and how many clips may come under it on one day.
LONGEST, A_DAY = 60, 12
#: And so many bytes, whether clips are made of them or not.
MOST_BYTES = 4 * MAX_BYTES
OVER = "This link is not valid any more. Ask your teacher for a new one."
ENOUGH = "Enough clips for today. Send the next one tomorrow."
#: Nobody at home films under prompts: the face is looked for in the first second, the tone
#: anywhere.
REST, PLAYING = (0.0, 1.0), (1.0, 180.0)


def make(
    student: Student, view: str, days: int, page: bool = False, pictures: bool = False
) -> CaptureLink:
    """A new link. Refused without the consent to film.

    page, pictures  see ``CaptureLink``
    """
    if not 1 <= days <= LONGEST:
        raise Refused("A link may be valid for 1 to {longest} days.", longest=LONGEST)
    demand_filmable(student, local_time.today())
    until = clock.now() + datetime.timedelta(days=days)
    return CaptureLink.objects.create(
        student=student, view=view, until=until, page=page, pictures=page and pictures
    )


def to_print(student: Student) -> CaptureLink | None:
    """The newest valid link, one with the student's page before others; None without one."""
    return next((one for one in student.links.order_by("-page", "-pk") if one.open), None)


def path_of(link: CaptureLink) -> str:
    """The path of its address."""
    return f"/film/{token_of(link)}"


def token_of(link: CaptureLink) -> str:
    """What stands in its address: the number, signed."""
    return _signer.sign(str(link.pk))


def link_at(token: str) -> CaptureLink:
    """The link of an address; refused where it is made up, over or taken back."""
    try:
        number = int(_signer.unsign(token))
    except (BadSignature, ValueError):
        raise Refused(OVER) from None
    found = CaptureLink.objects.filter(pk=number).select_related("student__section__band").first()
    if found is None or not found.open:
        raise Refused(OVER)
    return found


def take_in(link: CaptureLink, upload: uuid.UUID, count: int, digest: str, name: str) -> Filmed:
    """Make a take of the pieces that were sent, and look at once whether it can be read."""
    _count(link)
    whole = pieces.joined(upload, count, digest)
    facts = TakeFacts(link.view, Take.Purpose.CHECK, local_time.today())
    try:
        with whole.open("rb") as file:
            clip = UploadedFile(File(file), name, size=whole.stat().st_size)
            take = uploads.add_take(link.student, clip, facts)
    finally:
        pieces.drop(upload)
    return looked_at(take, REST, PLAYING)


def receive(link: CaptureLink, upload: uuid.UUID, number: int, data: bytes, digest: str) -> None:
    """Keep one piece of a clip; refused once more came on a day than clips are long."""
    today = _today(link)
    if not today.filter(received__lt=MOST_BYTES).update(received=F("received") + len(data)):
        raise Refused(ENOUGH)
    pieces.put(upload, number, data, digest)


def _count(link: CaptureLink) -> None:
    # One stroke: two phones at once don't both get the last one.
    if not _today(link).filter(sent__lt=A_DAY).update(sent=F("sent") + 1):
        raise Refused(ENOUGH)


def _today(link: CaptureLink) -> QuerySet[CaptureLink]:
    """The link, with what came on other days forgotten."""
    found, today = CaptureLink.objects.filter(pk=link.pk), local_time.today()
    found.exclude(day_of=today).update(day_of=today, sent=0, received=0)
    return found
