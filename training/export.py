"""From trained weights to the two files that Sulvet reads (ONNX, an open format)."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import onnx
import tensorflow as tf
import tf2onnx
from onnx import TensorProto, helper, numpy_helper

from training import networks

TO = Path(__file__).parents[1] / "sulvet" / "core" / "video" / "data"
OUTPUTS = {"place": ["cells", "none"], "marks": ["maps", "spread", "shown", "overall", "turn"]}
BUILDERS = {"place": networks.place_network, "marks": networks.mark_network}


def export(work: Path) -> None:
    """Write both networks; weights are kept in half precision."""
    TO.mkdir(exist_ok=True)
    for name, build in BUILDERS.items():
        model = build()
        model.load_weights(work / f"{name}.weights.h5")
        bare = networks.bare(model) if name == "marks" else model
        proto = converted(bare, OUTPUTS[name])
        onnx.save(halved(proto), TO / f"{name}.onnx")


def converted(model: Any, outputs: list[str]) -> Any:
    """A model as ONNX, one picture at a time."""
    side = model.input_shape[1]
    spec = (tf.TensorSpec((1, side, side, 3), tf.float32, name="picture"),)

    @tf.function(input_signature=spec)
    def answer(picture: Any) -> Any:
        found = model(picture, training=False)
        found = found if isinstance(found, list | tuple) else [found]
        return {
            name: tf.identity(value, name=name) for name, value in zip(outputs, found, strict=True)
        }

    proto, _ = tf2onnx.convert.from_function(answer, input_signature=spec, opset=13)
    return proto


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
