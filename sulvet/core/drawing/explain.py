"""Drawings that explain the measures, for docs/measuring.md: made-up heads with dimensions.

``python -m sulvet.core.drawing.explain FOLDER`` writes one SVG for each figure. Every line
is taken from the head's own surfaces, seen from straight in front or from the side.
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.drawing.explain_sheet import BRASS, FAINT, INK, RED, SKIN, Pair, Sheet
from sulvet.core.language import said
from sulvet.core.simulate.body import Body, body
from sulvet.core.simulate.equipment import AnyEquipment, Plate, equipment
from sulvet.core.simulate.mouth import BORDER, DOWN, SEAM, UP
from sulvet.core.simulate.person import people
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.skull import skull
from sulvet.core.simulate.truth import chin_contour, landmarks

PERSON = "ada"


FRONT_BOX, SIDE_BOX = (-48.0, -62.0, 48.0, 10.0), (-34.0, -62.0, 62.0, 14.0)


def _made(instrument: str = "", holds: dict[str, float] | None = None, **pose: float) -> tuple[
    Body, AnyEquipment | None, dict[str, Floats]
]:  # fmt: skip
    who = people()[PERSON]
    held = equipment(instrument, who, skull(who), **(holds or {})) if instrument else None
    shown = body(who, Pose(**pose), held)
    return shown, held, landmarks(shown, held)


def _front(
    instrument: str = "", holds: dict[str, float] | None = None, **pose: float
) -> tuple[Sheet, dict[str, Floats]]:
    """A face from the front: outline, nose, lips; and its landmarks."""
    shown, held, points = _made(instrument, holds, **pose)
    sheet = Sheet(FRONT_BOX)
    grid = shown.head
    inside = (grid[..., 2] > -76) & (grid[..., 1] > -64) & (grid[..., 1] < 12)
    rows = [r for r in range(len(grid)) if inside[r].any()]
    right = [grid[r][inside[r]][grid[r][inside[r]][:, 0].argmin()][:2] for r in rows]
    left = [grid[r][inside[r]][grid[r][inside[r]][:, 0].argmax()][:2] for r in rows]
    sheet.area(np.array([*right, *left[::-1]]), SKIN, FAINT)
    for sign, wing in ((1, "al_l"), (-1, "al_r")):
        tip = points[wing]
        curve = [(sign * 3.0, points["sn"][1] - 0.4), (tip[0] - sign * 1.5, tip[1] - 3.5),
                 (tip[0], tip[1]), (tip[0] - sign * 1.0, tip[1] + 4)]  # fmt: skip
        sheet.line(curve, FAINT)
    border, seam = shown.lips[BORDER][:, :2], shown.lips[SEAM][:, :2]
    sheet.area(border, RED)
    sheet.area(seam, "#5b2a26", INK)
    if held is not None:
        _thing_front(sheet, instrument, points)
    return sheet, points


def _ellipse(centre: Pair, wide: float, high: float) -> Floats:
    turn = np.linspace(0, 2 * np.pi, 61)
    return np.stack([centre[0] + wide * np.cos(turn), centre[1] + high * np.sin(turn)], axis=-1)


def _thing_front(sheet: Sheet, instrument: str, points: dict[str, Floats]) -> None:
    if "rim_1" in points:
        rim = np.array([points[f"rim_{n}"] for n in range(1, 6)])
        centre = points["rim_centre"]
        wide = float(np.abs(rim[:, 0] - centre[0]).max()) / np.cos(np.radians(30))
        high = float(rim[:, 1].max() - centre[1])
        sheet.area(_ellipse((centre[0], centre[1]), wide, high), "#e9dcc0", INK, fill_opacity="0.6")
    elif "hole_r" in points:
        hole = (points["hole_r"] + points["hole_l"]) / 2
        plate = _ellipse((hole[0], hole[1] - 3), 31, 9)
        sheet.area(plate, "#dfe0df", INK, fill_opacity="0.75")
        high = float(hole[1] - points["hole_far"][1])
        sheet.area(_ellipse((hole[0], hole[1]), 6, high), "#3a3330", INK)
    else:
        half = (points["mp_l"] - points["mp_r"])[0] / 2
        x = float(points["mp_l"][0] + points["mp_r"][0]) / 2
        top = float(points["mp_r"][1]) + 4
        body_of = [(x - half, top), (x + half, top), (x + half * 1.8, -62.0), (x - half * 1.8, -62)]
        sheet.area(body_of, "#4a4644", INK, fill_opacity="0.8")


def _side(
    instrument: str = "", holds: dict[str, float] | None = None, **pose: float
) -> tuple[Sheet, dict[str, Floats], Callable[[Floats], Pair]]:
    """A profile that looks to the right, its landmarks, and how they lie in it."""
    shown, held, points = _made(instrument, holds, **pose)
    sheet = Sheet(SIDE_BOX)
    upper = shown.head[:, shown.skull.mid]
    rest = shown.skull.xyz[:, shown.skull.mid]
    nose = upper[(rest[:, 1] > -8.6 * shown.person.face) & (rest[:, 1] < 16) & (rest[:, 2] > -40)]
    nose = nose[nose[:, 1] > shown.lips[0, UP, 1]]
    lip_up = shown.lips[: SEAM + 1, UP]
    lip_down = shown.lips[SEAM:BORDER:-1, DOWN]
    chin = chin_contour(shown)
    profile = np.concatenate([nose, lip_up, lip_down, chin])[:, [2, 1]]
    if held is not None and not isinstance(held, Plate):
        profile = np.concatenate([nose, lip_up])[:, [2, 1]]
        sheet.line(np.concatenate([lip_down, chin])[:, [2, 1]], INK)
    sheet.line(profile, INK)

    def seen(point: Floats) -> Pair:
        return float(point[2]), float(point[1])

    return sheet, points, seen


def corners() -> Sheet:
    """Corner rise and mouth width, a smile over rest."""
    _, _, rest = _made()
    sheet, now = _front(rise_r=9, rise_l=9, width=1.13)
    middle = (now["ls"] + now["li"]) / 2
    for side, name in (("r", "ch_r"), ("l", "ch_l")):
        way = rest[name] - (rest["ls"] + rest["li"]) / 2
        sheet.line(
            [tuple(middle[:2]), tuple((middle + 1.3 * way)[:2])], FAINT, stroke_dasharray="5 4"
        )
        sheet.line([tuple(middle[:2]), tuple(now[name][:2])], BRASS, stroke_width="2.2")
        sheet.dot(now[name], name, left=side == "r")
    sheet.dot(middle)
    sheet.text(now["ch_l"], said("corner rise"), 12, 16, "start", BRASS)
    y = -44.0
    sheet.measure((now["ch_r"][0], y), (now["ch_l"][0], y), said("mouth width, over rest"), 0, -8)
    return sheet


def red() -> Sheet:
    """Visible red and the opening."""
    sheet, now = _front(aperture_height=5, aperture_width=16)
    x = 2.0
    for a, b, words, dy in (
        ("ls", "sto_s", said("upper red"), -4),
        ("sto_i", "li", said("lower red"), 8),
    ):
        sheet.measure((x, now[a][1]), (x, now[b][1]), words, 14, dy)
    sheet.measure((-x, now["sto_s"][1]), (-x, now["sto_i"][1]), said("opening, height"), -70, 4)
    y = -44.0
    sheet.measure((now["ap_r"][0], y), (now["ap_l"][0], y), said("opening, width"), 0, -8)
    for name in ("ap_r", "ap_l"):
        sheet.dot(now[name], name, left=name == "ap_r")
    return sheet


def rim() -> Sheet:
    """A brass rim on the mouth."""
    sheet, now = _front("horn", {"upper_share": 0.62, "offset": 2.5}, press=0.5)
    _, _, rest = _made()
    line = (rest["sto_s"][1] + rest["sto_i"][1]) / 2
    points = np.array([now[f"rim_{n}"] for n in range(1, 6)])
    centre, top = now["rim_centre"], float(points[:, 1].max())
    bottom = 2 * float(centre[1]) - top
    sheet.line([(-34.0, line), (34.0, line)], INK, stroke_dasharray="7 4")
    sheet.text((-34.0, line), said("line of the lips, carried from rest"), 0, -6, "start")
    sheet.measure((20.0, top), (20.0, line), said("upper share"), 10, 6)
    sheet.measure((20.0, line), (20.0, bottom), said("of the whole"), 10, 6)
    sheet.line([(0.0, 6.0), (0.0, -58.0)], FAINT, stroke_dasharray="2 5")
    sheet.measure((0.0, -46.0), (float(centre[0]), -46.0), "offset", 12, 5)
    for n in range(1, 6):
        sheet.dot(now[f"rim_{n}"])
    return sheet


def cheeks() -> Sheet:
    """The cheeks' outline, puffed over rest."""
    _, _, rest = _made()
    sheet = Sheet((-72.0, -62.0, 72.0, 10.0))
    shown, _, now = _made(cheek_r=12, cheek_l=12)
    for of, stroke, dash in ((shown, INK, "none"), (body(people()[PERSON], Pose()), FAINT, "5 4")):
        grid = of.head
        inside = (grid[..., 2] > -76) & (grid[..., 1] > -64) & (grid[..., 1] < 12)
        rows = [r for r in range(len(grid)) if inside[r].any()]
        for side in ("argmin", "argmax"):
            edge = [grid[r][inside[r]][getattr(grid[r][inside[r]][:, 0], side)()][:2] for r in rows]
            sheet.line(np.array(edge), stroke, stroke_dasharray=dash)
    sheet.area(shown.lips[BORDER][:, :2], RED)
    y = float(rest["ck_l"][1])
    sheet.line([(-70.0, y), (70.0, y)], FAINT, stroke_dasharray="2 5")
    for name, dx in (("ck_r", -4), ("ck_l", 4)):
        sheet.measure((float(rest[name][0]), y), (float(now[name][0]), y), "", dx, -10)
        sheet.dot(now[name], name, left=dx < 0)
    sheet.text((0.0, -46.0), said("cheek out over rest (dashed), at mouth height"), colour=BRASS)
    return sheet


def chin() -> Sheet:
    """Lip to chin and the jaw."""
    sheet, now = _front()
    sheet.measure(now["li"][:2], now["pg"][:2], said("lip to chin, over rest"), 12, 6)
    x = -22.0
    sheet.measure((x, now["sn"][1]), (x, now["me"][1]), said("jaw, over rest"), -10, 0)
    for name in ("sn", "li", "pg", "me"):
        sheet.dot(now[name], name)
    sheet.area(
        _ellipse((0.0, float(now["pg"][1])), 9.5, 5.5), "none", FAINT, stroke_dasharray="3 3"
    )
    sheet.text((11.0, float(now["pg"][1])), "skin's roughness", 6, 22, "start", FAINT)
    return sheet


def plate() -> Sheet:
    """The flute's lip plate."""
    sheet, now = _front("flute", {"hole_to_lip": 4.0, "tilt": 7.0}, aperture_height=2.5,
                        aperture_width=10)  # fmt: skip
    hole = (now["hole_r"] + now["hole_l"]) / 2
    near = 2 * float(hole[1]) - float(now["hole_far"][1])
    sheet.measure((-16.0, now["li"][1]), (-16.0, near), said("hole below the lip"), -34, -16)
    sheet.line([tuple(now["pl_r"][:2]), tuple(now["pl_l"][:2])], BRASS, stroke_width="2.2")
    sheet.text(now["pl_l"], said("tilt against the lips"), 0, -22, "end", BRASS)
    for name in ("hole_r", "hole_l", "hole_far", "pl_r", "pl_l", "li"):
        sheet.dot(now[name])
    return sheet


def mouthpiece() -> Sheet:
    """A reed mouthpiece beside the middle."""
    sheet, now = _front("clarinet", {"offset": 4.0}, width=0.92, lower_red=0.4)
    sheet.line([(0.0, 6.0), (0.0, -58.0)], FAINT, stroke_dasharray="2 5")
    x = float(now["mp_r"][0] + now["mp_l"][0]) / 2
    sheet.measure((0.0, 4.0), (x, 4.0), "offset", 22, 5)
    for name in ("mp_r", "mp_l"):
        sheet.dot(now[name], name, left=name == "mp_r")
    return sheet


def hollow() -> Sheet:
    """The hollow between lip and chin."""
    sheet, now, seen = _side(chin_hollow=2.5)
    li, pg, sl = (np.array(seen(now[name])) for name in ("li", "pg", "sl"))
    way = (pg - li) / np.linalg.norm(pg - li)
    foot = li + ((sl - li) @ way) * way
    sheet.line([tuple(li), tuple(pg)], INK, stroke_dasharray="6 4")
    sheet.measure(tuple(sl), tuple(foot), "hollow", 26, 5)
    for name in ("n", "prn", "sn", "ls", "sto", "li", "sl", "pg"):
        if name in now:
            sheet.dot(seen(now[name]), name)
    return sheet


def fold() -> Sheet:
    """A fold, and flesh before the line to the groove."""
    sheet, now, seen = _side(fold=2.6, flesh=1.5)
    li, sl = seen(now["li"]), seen(now["sl"])
    sheet.line([li, sl], INK, stroke_dasharray="6 4")
    sheet.text(li, said("a fold: the skin stands before"), 30, 30, "start", BRASS)
    sheet.text(li, said("the line from lip to groove"), 30, 50, "start", BRASS)
    for name in ("li", "sl", "pg"):
        sheet.dot(seen(now[name]), name)
    return sheet


def reds_side() -> Sheet:
    """Visible red and order of the lips from the side."""
    sheet, now, seen = _side()
    for a, b, words in (("ls", "sto", said("upper red")), ("sto", "li", said("lower red"))):
        sheet.measure(seen(now[a]), seen(now[b]), words, 30, 4)
    ls, li = seen(now["ls"]), seen(now["li"])
    sheet.measure((li[0], -40.0), (ls[0], -40.0), said("upper before lower"), 24, 5)
    for name in ("ls", "sto", "li"):
        sheet.dot(seen(now[name]), name, left=True)
    return sheet


def depth() -> Sheet:
    """Depth and angle of a reed mouthpiece."""
    sheet, now, seen = _side("clarinet", {"depth": 12.7, "angle": 55}, lower_red=0.45)
    lip, a, b = (np.array(seen(now[name])) for name in ("mp_lip", "ax_a", "ax_b"))
    tip = np.array(seen(now["mp_tip"]))
    way = (b - a) / np.linalg.norm(b - a)
    across = np.array([-way[1], way[0]])
    sheet.area([tuple(tip), tuple(a + 10 * across), tuple(b + 11 * across), tuple(b - 11 * across),
                tuple(a - 10 * across)], "#4a4644", INK, fill_opacity="0.35")  # fmt: skip
    sheet.line([tuple(a), tuple(b)], BRASS, stroke_width="2.2")
    on = lip - ((lip - a) @ across) * across
    sheet.measure(tuple(tip + 16 * across), tuple(on + 16 * across), "depth", 0, -10)
    sheet.measure(tuple(on + 16 * across), tuple(a + 16 * across), "measured", 14, -2)
    for name in ("mp_lip", "ax_a", "ax_b"):
        sheet.dot(seen(now[name]), name)
    sheet.line([(float(b[0]), float(b[1])), (float(b[0]), -60.0)], FAINT, stroke_dasharray="5 4")
    sheet.text(tuple(b), said("angle to the face's vertical"), -10, 60, "end", BRASS)
    return sheet


def rim_side() -> Sheet:
    """A brass mouthpiece from the side."""
    sheet, now, seen = _side("trumpet", {"upper_share": 0.5, "angle": 12, "away": 4.0})
    top, low = (np.array(seen(now[name])) for name in ("rs_top", "rs_low"))
    middle = (top + low) / 2
    edge = top - low
    way = np.array([edge[1], -edge[0]]) / np.linalg.norm(edge)
    shank = [
        tuple(top),
        tuple(middle + 30 * way + 0.12 * edge),
        tuple(middle + 30 * way - 0.12 * edge),
        tuple(low),
    ]
    sheet.area(shank, "#e9dcc0", INK, fill_opacity="0.7")
    sheet.line([tuple(middle), tuple(middle + 42 * way)], BRASS, stroke_width="2.2")
    sheet.line(
        [tuple(middle), (float(middle[0]) + 42.0, float(middle[1]))], FAINT, stroke_dasharray="5 4"
    )
    sheet.text(tuple(middle + 40 * way), "angle", 8, -8, "start", BRASS)
    ls = seen(now["ls"])
    sheet.measure(ls, (ls[0] + 4.0, ls[1] - 0.8), said("gap while breathing"), 20, -24)
    for name in ("rs_top", "rs_low", "ls"):
        sheet.dot(seen(now[name]), name)
    return sheet


FIGURES: dict[str, Callable[[], Sheet]] = {
    "corners": corners,
    "red-and-opening": red,
    "rim": rim,
    "cheeks": cheeks,
    "chin": chin,
    "plate": plate,
    "mouthpiece": mouthpiece,
    "hollow": hollow,
    "fold": fold,
    "red-side": reds_side,
    "depth": depth,
    "rim-side": rim_side,
}


def main(argv: list[str]) -> int:
    """Write all figures into a folder."""
    folder = Path(argv[0]) if argv else Path("docs/drawings")
    folder.mkdir(parents=True, exist_ok=True)
    for name, make in FIGURES.items():
        (folder / f"{name}.svg").write_text(make().svg(), "utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
