"""Runs the committed networks, and reads places from their maps."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats

DATA = Path(__file__).parent / "data"
#: Least and greatest sigma a point may claim, pixels of the crop.
LEAST_SIGMA, MOST_SIGMA = 0.25, 40.0


@cache
def _session(name: str) -> Any:
    import onnxruntime

    options = onnxruntime.SessionOptions()
    options.intra_op_num_threads = 1
    options.log_severity_level = 3
    return onnxruntime.InferenceSession(
        str(DATA / f"{name}.onnx"), options, providers=["CPUExecutionProvider"]
    )


def answer(name: str, picture: NDArray[np.uint8] | Floats) -> dict[str, Floats]:
    """What a network says of an (H, W, C) picture of the size it was trained on, by output.

    Sulvet's own take RGB from 0 to 255.
    """
    session = _session(name)
    asked = session.get_inputs()[0].name
    found = session.run(None, {asked: picture[None].astype(np.float32)})
    return {
        output.name: np.asarray(value[0], dtype=float)
        for output, value in zip(session.get_outputs(), found, strict=True)
    }


def read_maps(said: dict[str, Floats], stride: int) -> tuple[Floats, Floats, Floats]:
    """(P, 2) mean place over each map, and (P,) sigma and (P,) visibility read there.

    said    a network's answer: ``maps``, ``spread`` and ``shown`` (H, W, P), ``overall`` (P,)
    stride  pixels of the crop for one cell; places and sigmas are pixels of the crop
    """
    side, _, count = said["maps"].shape
    maps = said["maps"].reshape(-1, count)
    share = np.exp(maps - maps.max(axis=0))
    share /= share.sum(axis=0)
    at = (np.arange(side) + 0.5) * stride - 0.5
    grid = np.stack(np.meshgrid(at, at), -1).reshape(-1, 2)
    spread = (share * said["spread"].reshape(-1, count)).sum(axis=0)
    shown = (share * said["shown"].reshape(-1, count)).sum(axis=0)
    return (
        share.T @ grid,
        np.clip(np.exp(np.clip(spread, -5, 5)), LEAST_SIGMA, MOST_SIGMA),
        1 / (1 + np.exp(-(shown + said["overall"]))),
    )
