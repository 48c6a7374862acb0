"""The Bench in a browser: stepping from key to picture, and dragging a mark."""

from __future__ import annotations

import datetime
import math

from playwright.sync_api import Page

from benchmarks import site

STEPS = 80
#: In the page: press the key, wait for the frame on the canvas, then for the
#: browser to have shown it; the baseline is a bare turn of the browser's loop.
MEASURE = """async (steps) => {
  const shown = () => new Promise((done) =>
    requestAnimationFrame(() => requestAnimationFrame(done)));
  const pause = (ms) => new Promise((done) => setTimeout(done, ms));
  const canvas = document.querySelector("section.window canvas");
  const times = { step: [], bare: [] };
  const press = (key, shiftKey) =>
    window.dispatchEvent(new KeyboardEvent("keydown", { key, shiftKey }));
  for (let n = 0; canvas.dataset.frame !== "0" && n < 200; n++) {
    press("Q", true);
    await pause(40);
  }
  await pause(1500);
  for (let n = 0; n < steps; n++) {
    await pause(120);
    let from = performance.now();
    await shown();
    times.bare.push(performance.now() - from);
    await pause(10);
    const want = String(Number(canvas.dataset.frame) + 1);
    from = performance.now();
    press("w", false);
    while (canvas.dataset.frame !== want) {
      if (performance.now() - from > 5000) throw new Error("frame " + want + " never came");
      await new Promise((done) => requestAnimationFrame(done));
    }
    times.step.push(performance.now() - from);
  }
  return times;
}"""


#: How long a mark is dragged, and by how many moves of the mouse.
DRAG_MOVES = 240
#: Frame after frame while something goes on: times between two turns of the browser, ms.
RECORD = """() => {
  const record = { on: true, times: [] };
  window.record = record;
  let last = performance.now();
  const turn = (now) => {
    if (!record.on) return;
    record.times.push(now - last);
    last = now;
    requestAnimationFrame(turn);
  };
  requestAnimationFrame((now) => { last = now; requestAnimationFrame(turn); });
}"""
STOP = "() => { window.record.on = false; return window.record.times; }"


def _prepare() -> int:
    """A database with one take that is read; returns its id."""
    from django.contrib.auth.models import User
    from django.core.files.uploadedfile import SimpleUploadedFile

    from benchmarks.reviewing import TEN_SECONDS
    from sulvet.band.services import StudentFacts, add_student, band_of
    from sulvet.takes.facts import TakeFacts
    from sulvet.takes.tasks import read_take
    from sulvet.takes.uploads import add_take
    from tests.clips import clip

    teacher = User.objects.create_user("bench", password="a-long-word")
    day = datetime.date(2026, 11, 1)
    student = add_student(band_of(teacher), StudentFacts("Bench", "horn", consent_on=day))
    data = clip(TEN_SECONDS, ".mp4", (1280, 720)).read_bytes()
    take = add_take(student, SimpleUploadedFile("clip.mp4", data), TakeFacts("front", "check", day))
    read_take.call(take.pk, str(take.job))
    return take.pk


def _measure(page: Page, address: str, take: int) -> dict[str, list[float]]:
    page.goto(address)
    page.get_by_label("Name").fill("bench")
    page.get_by_label("Password").fill("a-long-word")
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Next for you").wait_for()
    page.goto(f"{address}takes/{take}")
    page.locator("canvas[data-frame]").wait_for()
    times: dict[str, list[float]] = page.evaluate(MEASURE, STEPS)
    return times | _drag(page)


def _drag(page: Page) -> dict[str, list[float]]:
    """Turns of the browser while nothing is done, and while a corner is dragged about."""
    page.keyboard.press("i")
    page.wait_for_timeout(500)
    page.evaluate(RECORD)
    page.wait_for_timeout(2000)
    idle = page.evaluate(STOP)
    mark = page.locator('[data-landmark="ch_l"] circle').first.bounding_box()
    assert mark is not None
    x, y = mark["x"] + mark["width"] / 2, mark["y"] + mark["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.evaluate(RECORD)
    for n in range(DRAG_MOVES):
        page.mouse.move(x + 30 * math.sin(n / 9), y + 20 * math.cos(n / 7))
    dragged = page.evaluate(STOP)
    page.mouse.up()
    return {"idle": idle, "dragged": dragged}


def _rank(values: list[float], share: float) -> float:
    return sorted(values)[min(int(len(values) * share), len(values) - 1)]


Rows = list[tuple[str, str, str]]


def run() -> tuple[Rows, Rows]:
    """Rows of (what, ratio to a bare turn of the browser, milliseconds): steps, and drags."""
    with site.fresh():
        take = _prepare()
        with site.served() as here, site.chromium() as browser:
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            times = _measure(page, here.address, take)
    bare, idle = _rank(times["bare"], 0.5), _rank(times["idle"], 0.5)
    dragging = [
        (f"{what}, {word}", f"{_rank(times[name], share) / idle:.2f}",
         f"{_rank(times[name], share):.1f} ms, {1000 / _rank(times[name], share):.0f} a second")
        for what, name in (("a turn of the browser, nothing done (baseline)", "idle"),
                           ("a turn while a mouth corner is dragged", "dragged"))
        for word, share in (("median", 0.5), ("95th percentile", 0.95))
    ]  # fmt: skip
    stepping = [
        (f"{what}, {word}", f"{_rank(times[name], share) / bare:.2f}",
         f"{_rank(times[name], share):.1f} ms")
        for what, name in (("two bare turns of the browser (baseline)", "bare"),
                           ("one frame on, from key to picture", "step"))
        for word, share in (("median", 0.5), ("95th percentile", 0.95))
    ]  # fmt: skip
    return stepping, dragging
