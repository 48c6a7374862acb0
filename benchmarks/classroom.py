"""A class before the booth and clips from phones, in a browser: to findings, and over bad lines."""

from __future__ import annotations

import datetime
import random
import tempfile
import time
from pathlib import Path
from typing import TYPE_CHECKING

from playwright.sync_api import Browser, Page, Route

from benchmarks import site

if TYPE_CHECKING:
    from django.db.models import QuerySet

    from sulvet.band.models import Student
    from sulvet.takes.models import Take

#: Who sits in the section: made-up names, on what.
CLASS = (
    ("Ada Ferreira", "oboe"), ("Bela Sato", "clarinet"), ("Chidi Lund", "saxophone"),
    ("Dora Nyman", "bassoon"), ("Emil Haddad", "horn"), ("Femi Castell", "trumpet"),
)  # fmt: skip
#: As long as a clip is filmed, and as long as one may take to be analysed, ms.
FILMED, ANALYSED = 60_000, 240.0
#: Bytes of the clip that a phone sends.
CLIP = 24_000_000


def class_section() -> str:
    """Six made-up students, front and side, from their names to what was found."""
    with site.fresh():
        from django.contrib.auth.models import User

        from sulvet.band.services import StudentFacts, add_student, band_of

        # Only the demo's own teacher may let made-up students play.
        teacher = User.objects.create_user("demo", password="a-long-word")
        day = datetime.date.today() - datetime.timedelta(days=1)
        for name, instrument in CLASS:
            add_student(band_of(teacher), StudentFacts(name, instrument, consent_on=day))
        teacher_band = band_of(teacher)
        section = teacher_band.sections.order_by("pk").first()
        assert section is not None
        section.name = "Class of six"
        section.save()
        for student in _students():
            student.section = section
            student.save()
        with site.served(worker=True) as here:
            began = time.monotonic()
            with site.chromium() as browser:
                _film_all(browser, here.address)
            filmed = time.monotonic() - began
            _until_analysed()
            return _class_table(filmed, time.monotonic() - began)


def _students() -> QuerySet[Student]:
    from sulvet.band.models import Student

    return Student.objects.order_by("pk")


def _film_all(browser: Browser, address: str) -> None:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.set_default_timeout(FILMED)
    _log_in(page, address)
    page.get_by_role("button", name="Open the booth").click()
    page.locator("#booth-section").select_option(label="Class of six")
    page.get_by_role("dialog").get_by_role("button", name="Open the booth").click()
    for name, _ in CLASS:
        page.get_by_role("button", name=name.split()[0]).click()
        # This machine has no camera, which the page says; a made-up student steps in.
        page.get_by_role("button", name="Let a made-up student play").first.click()
        for view in ("front", "side"):
            page.get_by_role("button", name="Start filming").click()
            done = page.get_by_role("status").filter(has_text="Everything is in the picture")
            done.wait_for()
            again = "Now from the side" if view == "front" else "Next student"
            done.get_by_role("button", name=again).click()
    page.close()


def _log_in(page: Page, address: str) -> None:
    page.goto(address)
    page.get_by_label("Name").fill("demo")
    page.get_by_label("Password").fill("a-long-word")
    page.keyboard.press("Enter")
    page.get_by_role("link", name="Lessons").wait_for()


def _until_analysed() -> None:
    from sulvet.takes.models import Take

    end = time.monotonic() + ANALYSED
    waiting = (Take.State.WAITING, Take.State.WORKING)
    while Take.objects.filter(state__in=waiting).exists() and time.monotonic() < end:
        time.sleep(1)


def _class_table(filmed: float, whole: float) -> str:
    from sulvet.core.judgement.common import common
    from sulvet.core.simulate.script import load
    from sulvet.demo.stand_in import stand_in_for
    from sulvet.takes.focus import findings_on, focus_of

    rows = []
    for student in _students():
        for take in student.takes.order_by("pk"):
            played = stand_in_for(student.instrument, take.view)
            assert played is not None
            # Loose corners are drawn as several small movements.
            truth = [common().fault(one.fault).name for one in load(played.script).faults]
            found = [common().fault(f.fault).name for f in findings_on(take).findings
                     if f.verdict == "fault"]  # fmt: skip
            focus = focus_of(take).fault
            rows.append(
                f"| {student.name.split()[0]}, {student.instrument} | {take.view} "
                f"| {', '.join(dict.fromkeys(truth)) or 'nothing'} | {take.state} "
                f"| {', '.join(dict.fromkeys(found)) or 'nothing'} "
                f"| {common().fault(focus).name if focus else 'none'} | {_unchecked(take)} |"
            )
    head = (
        "| student | view | plays | state | called | focus | not checked |\n"
        "|---|---|---|---|---|---|---|\n"
    )
    return head + "\n".join(rows) + (
        f"\n\nFilmed in {filmed:.0f} s, all analysed after {whole:.0f} s; not a mark and not a "
        "letter was placed by hand."
    )  # fmt: skip


def _unchecked(take: Take) -> str:
    """What of a take could not be checked, as its page says it."""
    from sulvet.takes.analysis import coverage_of

    covered = coverage_of(take)
    return ", ".join(one.area.lower() for one in covered.unchecked) if covered else ""


def upload_section() -> str:
    """One clip of some megabytes from a phone: undisturbed, losing pieces, and with a server that
    goes away on the way."""
    with site.fresh():
        from django.contrib.auth.models import User

        from sulvet.band.services import StudentFacts, add_student, band_of
        from sulvet.booth import links

        teacher = User.objects.create_user("phones", password="a-long-word")
        day = datetime.date.today() - datetime.timedelta(days=1)
        facts = StudentFacts("Ida", "trumpet", consent_on=day)
        student = add_student(band_of(teacher), facts)
        path = links.path_of(links.make(student, "front", 7)).lstrip("/")
        rows = []
        with (
            tempfile.TemporaryDirectory() as folder,
            site.served() as here,
            site.chromium() as browser,
        ):
            clip = _clip(Path(folder))
            bare = 0.0
            for what, trouble in (("undisturbed (baseline)", None), ("every fifth piece lost", 5),
                                  ("the server killed half way, back after 3 s", 0)):  # fmt: skip
                seconds, sent = _send(browser, here, f"{here.address}{path}", clip, trouble)
                bare = bare or seconds
                rows.append(f"| {what} | {seconds / bare:.2f} | {seconds:.1f} s, {sent} pieces |")
        from sulvet.takes.models import Take

        same = sum(take.clip.read_bytes() == clip_bytes() for take in Take.objects.all())
        head = "| what | ratio to the baseline | time, pieces sent |\n|---|---|---|\n"
        return head + "\n".join(rows) + (
            f"\n\n{CLIP / 1e6:.0f} MB in pieces of 2 MB; {same} of 3 arrived byte for byte. The "
            "time includes looking whether the clip can be read, and waiting before a new try."
        )  # fmt: skip


def clip_bytes() -> bytes:
    """A take of the demo, made longer by an empty box at its end, which players skip (ISO/IEC
    14496-12, ``free``)."""
    from sulvet.demo.scenario import TAKES

    data = (TAKES / "ida-front-5.mp4").read_bytes()
    return data + (CLIP - len(data)).to_bytes(4, "big") + b"free" + bytes(CLIP - len(data) - 8)


def _clip(folder: Path) -> Path:
    path = folder / "clip.mp4"
    path.write_bytes(clip_bytes())
    return path


def _send(
    browser: Browser, here: site.Served, address: str, clip: Path, trouble: int | None
) -> tuple[float, int]:
    """Send one clip; seconds it took, and how many pieces were sent.

    trouble  every so manieth piece is lost; 0: the server goes away once; None: nothing happens
    """
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    page = context.new_page()
    page.set_default_timeout(FILMED)
    told = {"pieces": 0, "killed": 0}
    chance = random.Random(1)

    def piece(route: Route) -> None:
        if route.request.method != "PUT":
            route.continue_()
            return
        told["pieces"] += 1
        if trouble and chance.randrange(trouble) == 0:
            route.abort("connectionreset")
            return
        if trouble == 0 and told["pieces"] == 6 and not told["killed"]:
            told["killed"] = 1
            here.kill()
            route.abort("connectionreset")
            time.sleep(3)
            here.start()
            return
        route.continue_()

    page.route("**/api/film/**", piece)
    page.goto(address)
    with page.expect_file_chooser() as chooser:
        page.get_by_text("Film", exact=True).tap()
    began = time.monotonic()
    chooser.value.set_files(clip)
    page.get_by_role("status").filter(has_text="Everything is in the picture").wait_for()
    seconds = time.monotonic() - began
    context.close()
    return seconds, told["pieces"]
