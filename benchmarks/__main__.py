"""``python3 run.py bench``: measure and write docs/benchmarks.md."""

from __future__ import annotations

import datetime
import os
import platform
import re
import sys
from pathlib import Path

from benchmarks import (
    browsing,
    classroom,
    district,
    filming,
    finder,
    killing,
    loading,
    measuring,
    mirroring,
    mutants,
    pages,
    rejudging,
    reviewing,
    rows,
    site,
    suite,
    writing,
)
from benchmarks.accuracy import page as accuracy

TIMINGS, FINDER, KILLING, LOAD = "timings", "finder", "killing", "load"
MIRROR, CLASS, UPLOADS, WRITES = "mirror", "class", "uploads", "writes"
DISTRICT, ROWS = "district", "rows"
SUITE, MUTANTS = "suite", "mutants"
#: Sections of the page that can be written by themselves.
ALONE = {
    LOAD: loading.section,
    MIRROR: mirroring.section,
    CLASS: classroom.class_section,
    UPLOADS: classroom.upload_section,
    WRITES: writing.section,
}
#: Takes many minutes, and servers that not every machine has: only when it is named.
NAMED = {
    DISTRICT: district.section, ROWS: rows.section, SUITE: suite.section, MUTANTS: mutants.section,
}  # fmt: skip
PAGE = Path(__file__).resolve().parents[1] / "docs" / "benchmarks.md"


def _table(rows: list[tuple[str, str, str]], unit: str) -> str:
    lines = [f"| what | ratio to the baseline | {unit} |", "|---|---|---|"]
    return "\n".join(lines + [f"| {what} | {ratio} | {value} |" for what, ratio, value in rows])


def main() -> None:
    """Run all and write both pages; or only what is named: timings, sections of accuracy."""
    only = sys.argv[1:]
    sections = [name for name in only if name not in (TIMINGS, FINDER, KILLING, *ALONE, *NAMED)]
    if not only or sections:
        print(accuracy.rewrite(*sections))
    if not only or FINDER in only:
        print(finder.rewrite())
    if not only or KILLING in only:
        print(killing.rewrite())
    for name, section in NAMED.items():
        if name in only:
            print(rewrite(name, section()))
    if set(only) <= set(NAMED) and only:
        return
    if not only or TIMINGS in only:
        write_timings()
    else:
        # One site for all of them: settings are read once a process.
        with site.fresh():
            for name, section in ALONE.items():
                if name in only:
                    print(rewrite(name, section()))


def rewrite(name: str, table: str) -> str:
    """Write one table anew, the rest of the page as it is; returns it."""
    text = PAGE.read_text("utf-8")
    between = rf"(?<=<!-- {name} -->\n).*?(?=\n<!-- end of {name} -->)"
    PAGE.write_text(re.sub(between, lambda _: table, text, flags=re.DOTALL), "utf-8")
    return table


def _between(name: str) -> str:
    """A table as the page has it."""
    found = re.search(
        rf"<!-- {name} -->\n(.*?)\n<!-- end of {name} -->", PAGE.read_text("utf-8"), re.DOTALL
    )
    return found[1] if found else "Not measured yet."


def write_timings() -> None:
    """Measure, and write docs/benchmarks.md."""
    review = _table(reviewing.run(), "median of three")
    stepping, dragging = browsing.run()
    step, drag = _table(stepping, "time"), _table(dragging, "time")
    frames, said = filming.run()
    film = _table(frames, "median of five")
    measure = _table(measuring.run(), "median of nine")
    with site.fresh():
        again = _table(rejudging.run(), "median of three")
        opened = _table(pages.run(), "95th percentile")
        under_load, mirror, class_of_six, uploads, writes = (
            section() for section in ALONE.values()
        )
    # Measured by itself: what it said last stays.
    district_figures, rows_figures, suite_figures, mutants_figures = map(_between, NAMED)
    text = f"""# Benchmarks

Written by `python3 run.py bench` on {datetime.date.today().isoformat()},
{os.cpu_count()} cores, {platform.machine()}, Python {platform.python_version()}. Every figure is
compared with a baseline of the same run, because machines differ and are busy by turns; nothing
here is asserted in a test.

## Reviewing a take

A painted smile, 10 s, 1280x720, 30 frames a second. The aim: below 1.0, since a face is looked
for on few frames and followed on the others.

{review}

{reviewing.WHY}

## Stepping through frames

Headless Chromium, the same clip on the Bench, stills of 1280x720, {browsing.STEPS} steps with the
neighbours fetched ahead. The aim: 95th percentile under 60 ms.

{step}

## Dragging a mark

The same page with every stave of the score shown; the measured drawing follows the mark, and the
server is asked for the frame's values as fast as it answers. Headless Chromium draws without a
graphics card. The aim: 50 a second.

{drag}

## Measuring again

What a moved mark costs the server beside following: a front take of 5 s, 30 frames a second, with a
rim, all measures with their uncertainty, judged. The aims: one frame under 20 ms, a whole take
under 150 ms. The baseline is decoding the same clip once.

{measure}

## Judging stored takes by a changed band

{rejudging.TAKES} front takes with a rim, one band of the standard changed. The aim: under a second.

{again}

## Opening pages of a large band

{pages.STUDENTS} students with {pages.TAKES} takes each; time in the server for one request, the
baseline is one row by its key. The aim: under 150 ms at the 95th percentile.

{opened}

## The mirror

From a picture to the answer, in the server. The aim: under 250 ms at the 95th percentile.

<!-- mirror -->
{mirror}
<!-- end of mirror -->

## A class of six in the booth

Chromium on this machine, six made-up students of one section, front and side, four counts each.
What is played are takes of the demo; what is found is read as any clip is.

<!-- class -->
{class_of_six}
<!-- end of class -->

## Clips from phones

A phone of 390 by 844 pixels, one clip under a capture link.

<!-- uploads -->
{uploads}
<!-- end of uploads -->

## Pages under load

One server of eight threads, two cores that also run the clients, the demo band; each client asks
again as soon as it is answered, for {loading.SECONDS:.0f} s. The aims for the Bench: under 0.5 s
with 8 clients, under 2 s with 32.

<!-- load -->
{under_load}
<!-- end of load -->

The aims are met: a Bench takes one Python process some 35 ms, which answers one at a time, and the
clients share its two cores. It took 3.5 s with 8 clients and 17 s with 32 before its numbers were
rounded at one stroke and written in compiled code, and twice as long as now under the server before
this one.

## How long the database is held

Every write transaction of what is done with the demo band, from its begin to its commit: so long
another writer waits. The aim: 200 ms. A restore is all or nothing, and one transaction for it.

<!-- writes -->
{writes}
<!-- end of writes -->

## A district on one machine

`python3 run.py bench district`, by itself. Two cores bound it: database, queue, store, web process
and workers share them.

<!-- district -->
{district_figures}
<!-- end of district -->

## A district's database

`python3 run.py bench rows`, by itself, on PostgreSQL. The aim: under 150 ms at the 95th percentile,
and as many queries as with one band.

<!-- rows -->
{rows_figures}
<!-- end of rows -->

## The tests

`python3 run.py bench suite`, by itself: `run.py test` with the seconds of each part. The aim: eight
minutes on two cores.

<!-- suite -->
{suite_figures}
<!-- end of suite -->

## Would the tests notice?

`python3 run.py bench mutants`, by itself: {mutants.LOT} places of the code by lot, each changed in
one small way (cosmic-ray), and the tests of its part run. The aim: 85 % noticed.

<!-- mutants -->
{mutants_figures}
<!-- end of mutants -->

## Filming a made-up head

One core; the baseline is looking for the face in the same picture once. Painting a person's skin
comes on top once a process (some seconds).

{film}

{said}
"""
    PAGE.write_text(text, "utf-8")
    print(text)


if __name__ == "__main__":
    main()
