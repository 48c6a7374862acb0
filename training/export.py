"""From trained weights to the four files that Sulvet reads (ONNX, an open format)."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any

import numpy as np
import onnx
import torch
from onnx import TensorProto, helper, numpy_helper
from torch import Tensor, nn

from sulvet.core.video.crops import CLOSER_SIDE, LOCATE_SIDE, MARK_SIDE
from training.networks import NETWORKS

TO = Path(__file__).parents[1] / "sulvet" / "core" / "video" / "data"
SIDES = {"place": LOCATE_SIDE, "marks": MARK_SIDE, "corner": CLOSER_SIDE, "lips": CLOSER_SIDE}


class _Standalone(nn.Module):
    """A network that is shown pictures as they lie in memory, and answers likewise."""

    def __init__(self, network: nn.Module) -> None:
        super().__init__()
        self.network = network

    def forward(self, picture: Tensor) -> tuple[Tensor, ...]:
        """(N, H, W, 3) to the network's outputs, maps as (N, H, W, C)."""
        found = self.network(picture.permute(0, 3, 1, 2))
        return tuple(out.permute(0, 2, 3, 1) if out.ndim == 4 else out for out in found)


def export(work: Path) -> None:
    """Write those networks that were trained; weights are kept in half precision."""
    TO.mkdir(exist_ok=True)
    for name, kind in NETWORKS.items():
        if not (work / f"{name}.pt").exists():
            continue
        network = kind()
        network.load_state_dict(torch.load(work / f"{name}.pt", weights_only=True))
        onnx.save(halved(converted(network, SIDES[name])), TO / f"{name}.onnx")


def converted(network: nn.Module, side: int) -> Any:
    """A network as ONNX, one picture at a time."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "network.onnx"
        torch.onnx.export(
            _Standalone(network).eval(), (torch.zeros(1, side, side, 3),), path,
            input_names=["picture"], output_names=list(network.outputs), external_data=False,
        )  # fmt: skip
        return onnx.load(path)


def halved(proto: Any) -> Any:
    """The same with its weights as 16-bit numbers, widened again when it is read."""
    graph = proto.graph
    casts = []
    for k, kept in enumerate(list(graph.initializer)):
        values, name = numpy_helper.to_array(kept), str(kept.name)
        if kept.data_type != TensorProto.FLOAT or values.size < 256:
            continue
        small = numpy_helper.from_array(values.astype(np.float16), name + "_half")
        graph.initializer[k].CopyFrom(small)
        casts.append(helper.make_node("Cast", [small.name], [name], to=TensorProto.FLOAT))
    for cast in reversed(casts):
        graph.node.insert(0, cast)
    onnx.checker.check_model(proto)
    return proto
