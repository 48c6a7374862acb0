"""Where the demo's beginners stand on the first-lesson ladder, and what they were given."""

from __future__ import annotations

import datetime

from sulvet.accounts import local_time
from sulvet.band.models import Student
from sulvet.core.lessons.ladder import step_ids
from sulvet.lessons.given import Given, give
from sulvet.lessons.models import LadderMove, Standing

#: First name → step, days ago, and what is heard where there is no sound.
STANDING: dict[str, tuple[str, int, str]] = {
    "Mirela": ("change", 3, ""),
    "Pella": ("instrument", 6, ""),
    "Sunniva": ("hold-10", 4, ""),
    "Anouk": ("sound", 11, "air-only"),
    "Tilda": ("tongue", 2, ""),
    "Aino": ("", 1, ""),
    "Carla": ("hold-10", 3, ""),
    "Dario": ("shape", 5, ""),
    "Yusra": ("shape", 5, ""),
    "Oskar": ("hold-4", 9, ""),
    "Bram": ("tongue", 4, ""),
    "Noor": ("sound", 2, "thin-sharp"),
    "Lorenz": ("hold-4", 2, ""),
    "Edda": ("change", 6, ""),
    "Farid": ("instrument", 2, ""),
    "Greta": ("hold-10", 8, ""),
    "Hugo": ("", 4, ""),
    "Ida": ("tongue", 1, ""),
    "Jonas": ("place", 2, ""),
    "Wanjiru": ("breath", 7, ""),
    "Kaya": ("hold-10", 2, ""),
    "Nils": ("instrument", 3, ""),
    "Ruben": ("hold-4", 1, ""),
    "Zofia": ("air", 1, ""),
}
#: Days from one step to the next, before the one they stand at.
PACE = 2
#: Who has filmed the exercise that was given so many days ago.
PRACTISED, GIVEN = "Nils", 3


def lead_up(student: Student) -> None:
    """Put a student of the demo on the ladder, with the steps behind."""
    step, days, heard = STANDING[student.name.split()[0]]
    today, order = local_time.today(), step_ids()
    since = today - datetime.timedelta(days=days)
    passed = order[: order.index(step)] if step else order
    Standing.objects.create(student=student, step=step, since=since, heard=heard)
    LadderMove.objects.bulk_create(
        LadderMove(
            student=student,
            step=one,
            what=LadderMove.What.PASSED,
            on=since - datetime.timedelta(days=PACE * n),
        )
        for n, one in enumerate(reversed(passed))
    )
    if step == "hold-10":
        give([student], Given(drill="mouthpiece-tone", stage="mouthpiece", level=2))
    if student.name.startswith(PRACTISED):
        # Given before the take that shows how it goes.
        (given,) = give([student], Given(drill="four-by-four", stage="instrument", tempo=120))
        given.given_on = today - datetime.timedelta(days=GIVEN)
        given.save(update_fields=["given_on"])
