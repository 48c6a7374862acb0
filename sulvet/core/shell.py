"""Commands for a shell: ``review`` a clip, ``measure`` marks, ``simulate`` a take."""

from __future__ import annotations

import argparse
import json
import os
import sys
from pathlib import Path
from typing import Any

import numpy as np

from sulvet.core.anatomy.marks import PLACED, Marks
from sulvet.core.formats import coco, report
from sulvet.core.judgement.common import common
from sulvet.core.judgement.coverage import coverage
from sulvet.core.judgement.judge import judge
from sulvet.core.judgement.results import CANT_TELL, Judgement
from sulvet.core.judgement.standards import Standard, StandardError, shipped_standard
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.phases import Phase
from sulvet.core.phases import suggest as suggest_phases
from sulvet.core.simulate.script import ScriptError
from sulvet.core.simulate.script import load as load_script
from sulvet.core.video.clip import ClipError
from sulvet.core.video.keyframes import Keyframe


class _Refused(Exception):
    """Something given on the command line can't be used; the message says what to do."""


def main(argv: list[str] | None = None) -> int:
    """Run a command. Returns 0, or 1 when the take needs marks, or 2 for unusable input."""
    parser = argparse.ArgumentParser(prog="sulvet", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    for name, what, help_text in (
        ("review", "clip", "review a clip: find, follow, measure, judge"),
        ("measure", "marks", "measure and judge marks made elsewhere"),
    ):
        command = commands.add_parser(name, help=help_text)
        command.add_argument(what, type=Path)
        command.add_argument("--instrument", required=True)
        command.add_argument("--view", required=True, choices=["front", "side"])
        command.add_argument("--school", help="one side of a disagreement; default: the first")
        command.add_argument("--json", type=Path, help="write the whole result there")
        for phase in ("rest", "hold"):
            command.add_argument(
                f"--{phase}", metavar="FROM-TO", help=f"where “{phase}” is, seconds"
            )
        if name == "review":
            command.add_argument("--marks", type=Path, help="marks to start from, COCO keypoints")
            command.add_argument(
                "--mirrored", action="store_true", help="the clip is a mirror picture"
            )
    made = commands.add_parser("simulate", help="film a made-up head from a script")
    made.add_argument("script", type=Path)
    made.add_argument("--out", type=Path, required=True, help="folder for clip, truth and marks")
    made.add_argument("--format", choices=["mp4", "webm"], default="mp4")
    made.add_argument("--workers", type=int, help="processes to draw with; default: all cores")
    made.add_argument("--truth-only", action="store_true", help="write truth and marks, no clip")
    options = parser.parse_args(argv)
    try:
        if options.command == "simulate":
            return _simulate(options)
        return _review(options) if options.command == "review" else _measure(options)
    except (ClipError, coco.MarksFileError, StandardError, ScriptError, _Refused) as error:
        print(f"sulvet: {error}", file=sys.stderr)
        return 2


def _review(options: argparse.Namespace) -> int:
    from sulvet.core.review import review
    from sulvet.core.video.network_finder import default_finder

    standard, school = _standard(options)
    if not options.clip.is_file():
        raise _Refused(f"There is no file “{options.clip}”. Check its name.")
    _hush()
    keys = _keys(options.marks) if options.marks else []
    done = review(
        options.clip,
        default_finder(standard.family),
        keys=keys,
        phases=_given_phases(options) or None,
        mirrored=options.mirrored,
        view=options.view,
    )
    judged = judge(done.marks, done.phases, standard, options.view, school)
    take = {
        "clip": options.clip.name,
        "size": list(done.footage.size),
        "mirrored": options.mirrored,
        "needs": done.needs,
        "notes": done.notes,
    }
    _finish(options, take, done.marks, done.phases, judged, standard, school)
    return 1 if done.needs else 0


def _measure(options: argparse.Namespace) -> int:
    standard, school = _standard(options)
    document = _document(options.marks)
    marks, size = coco.load(document)
    phases, notes = _given_phases(options) or coco.load_phases(document), []
    if not phases:
        phases = suggest_phases(marks)
        notes.append("The phases were guessed from the marks; --rest and --hold set them.")
    judged = judge(marks, phases, standard, options.view, school)
    take = {"marks": options.marks.name, "size": list(size), "needs": "", "notes": notes}
    _finish(options, take, marks, phases, judged, standard, school)
    return 0


def _simulate(options: argparse.Namespace) -> int:
    # The rasteriser takes seconds to load; the other commands do without.
    from sulvet.core.simulate import clip

    script = load_script(options.script)
    stem = options.out / options.script.stem
    try:
        options.out.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise _Refused(f"The folder “{options.out}” can't be made ({error}).") from None
    if not options.truth_only:
        clip.write(script, stem.with_suffix(f".{options.format}"), options.workers, _progress)
        print(file=sys.stderr)
    truths = clip.moments(script)
    marks = clip.true_marks(script, clip.all_ids(truths), truths)
    for suffix, content in (
        (".truth.json", clip.document(script, truths)),
        (".marks.json", coco.dump(marks, script.size, options.script.stem, script.phases)),
    ):
        stem.with_suffix(suffix).write_text(json.dumps(content, allow_nan=False) + "\n", "utf-8")
    for file in sorted(options.out.glob(f"{options.script.stem}.*")):
        print(f"{file.stat().st_size / 1024:8.0f} KB  {file}")
    return 0


def _progress(done: int, count: int) -> None:
    print(f"\r  frame {done} of {count}", end="", file=sys.stderr, flush=True)


def _hush() -> None:
    """Keep the face mesh's native log off the teacher's shell; our own words stay."""
    sys.stderr = os.fdopen(os.dup(2), "w")
    null = os.open(os.devnull, os.O_WRONLY)
    os.dup2(null, 2)
    os.close(null)


def _standard(options: argparse.Namespace) -> tuple[Standard, str]:
    standard = shipped_standard(options.instrument)
    return standard, standard.school(options.school).id


def _given_phases(options: argparse.Namespace) -> list[Phase]:
    phases = []
    for name in ("rest", "hold"):
        text = getattr(options, name)
        if not text:
            continue
        try:
            start, end = (float(part) for part in text.split("-"))
            phases.append(Phase(name, start, end))
        except ValueError:
            raise _Refused(
                f"--{name} wants two times in seconds, the later one last, such as 0.2-1.4."
            ) from None
    return phases


def _document(path: Path) -> Any:
    try:
        return json.loads(path.read_text(encoding="utf-8"))
    except FileNotFoundError:
        raise _Refused(f"There is no file “{path}”. Check its name.") from None
    except (UnicodeDecodeError, json.JSONDecodeError, OSError) as error:
        raise _Refused(
            f"“{path}” is not a JSON file ({error}). Give COCO keypoints JSON."
        ) from None


def _keys(path: Path) -> list[Keyframe]:
    marks, _ = coco.load(_document(path))
    return placed_keys(marks)


def placed_keys(marks: Marks) -> list[Keyframe]:
    """Keyframes from marks a person placed; what a program followed is left out."""
    rows, columns = np.nonzero((marks.source == PLACED) & np.isfinite(marks.xy[..., 0]))
    return [
        Keyframe(
            marks.ids[c],
            int(marks.frames[r]),
            float(marks.xy[r, c, 0]),
            float(marks.xy[r, c, 1]),
            float(marks.sigma[r, c]),
            PLACED,
            bool(marks.hidden[r, c]),
        )
        for r, c in zip(rows, columns, strict=True)
    ]


def _finish(
    options: argparse.Namespace,
    take: dict[str, Any],
    marks: Marks,
    phases: list[Phase],
    judged: Judgement,
    standard: Standard,
    school: str,
) -> None:
    take |= {
        "instrument": standard.instrument,
        "view": options.view,
        "school": school,
        "standard": f"{standard.instrument} {standard.version}",
    }
    covered = coverage(judged.readings, standard, options.view, school)
    if options.json:
        document = report.document(take, marks, phases, judged)
        document["unchecked"] = covered.plain()["unchecked"]
        options.json.write_text(
            json.dumps(document, ensure_ascii=False, indent=1, allow_nan=False) + "\n", "utf-8"
        )
    print(f"{standard.name}, {options.view} view, school “{standard.school(school).name}”")
    for sentence in filter(None, [take["needs"], *take["notes"]]):
        print(f"  {sentence}")
    for phase in phases:
        print(f"  {phase.name:<8}{phase.start:6.2f} to {phase.end:.2f} s")
    untold: dict[str, list[str]] = {}
    for item in judged.readings:
        if item.value is None or item.uncertainty is None:
            untold.setdefault(item.reason, []).append(item.measure)
            continue
        digits = catalogue().measure(item.measure).decimals
        number = f"{item.value:.{digits}f} ± {item.uncertainty:.{digits}f} {item.unit}"
        print(f"  {item.measure:<18}{item.phase:<8}{number:<22}{item.verdict}")
    for found in judged.findings:
        if found.start is None or found.end is None:
            untold.setdefault(found.reason, []).append(found.fault)
            continue
        where = f"from {found.start:.2f} to {found.end:.2f} s"
        print(f"  {found.fault}: {found.verdict} in {found.phase} {where}")
    for reason, names in untold.items():
        print(f"  {CANT_TELL} ({', '.join(names)}): {reason}")
    if not judged.findings:
        print(f"  {covered.headline}.")
    if judged.focus:
        fault = common().fault(judged.focus, standard.family)
        print(
            f"  One thing to fix: {fault.name.lower()}. {fault.first_help}\n"
            f"  Drill: {common().drill(fault.drills[0]).name}"
        )
