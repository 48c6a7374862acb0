"""What the landmark network answers: its points, in their order, and which mirror which."""

from __future__ import annotations

from sulvet.core.anatomy.landmarks import other_side

#: Points of the face. In a profile ``sto_i`` is where the lips meet.
FACE: tuple[str, ...] = (
    "ex_r", "ex_l", "en_r", "en_l", "iris_r_out", "iris_r_in", "iris_l_in", "iris_l_out",
    "n", "prn", "al_r", "al_l", "sn", "ch_r", "ch_l", "cph_r", "cph_l", "ls", "sto_s", "sto_i",
    "li", "ap_r", "ap_l", "sl", "pg", "me", "ck_r", "ck_l", "go_r", "go_l",
)  # fmt: skip
#: Places round a rim's outer edge, from the top toward the subject's left.
RIM: tuple[str, ...] = tuple(f"ring_{n}" for n in range(8))
#: What is held to the mouth, by name, with its points.
THINGS: dict[str, tuple[str, ...]] = {
    "rim": (*RIM, "rim_centre"),
    "mouthpiece": ("mp_r", "mp_l", "mp_lip", "ax_a", "ax_b"),
    "plate": ("hole_r", "hole_l", "hole_near", "hole_far", "pl_r", "pl_l", "ps_in", "ps_out"),
}
#: What the closer look at the middle of the lips answers.
LIPS: tuple[str, ...] = ("ls", "sto_s", "sto_i", "li", "sl", "mp_lip")
POINTS: tuple[str, ...] = (*FACE, *(name for names in THINGS.values() for name in names))


def _other_side(name: str) -> str:
    return RIM[-RIM.index(name) % len(RIM)] if name in RIM else other_side(name)


#: For each point the place of the one that a mirror puts there.
MIRRORED: tuple[int, ...] = tuple(POINTS.index(_other_side(name)) for name in POINTS)
