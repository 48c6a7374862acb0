"""From the face mesh's package to the models that Sulvet reads (ONNX, an open format).

``python -m training.mesh WHEEL`` with the wheel of mediapipe 0.10.21, the last that carries its
models, and the packages of ``requirements-mesh.txt``. Never needed to run Sulvet; see
``docs/finder.md``.

The graphs are translated operator by operator. What the one with attention does by operators of
its own (cutting a region out of its map, and the way back) is left to ``core/video/face_mesh.py``:
it is parted into a base and one model a region.
"""

from __future__ import annotations

import sys
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import onnx
import tflite
from flatbuffers import flexbuffers
from onnx import TensorProto, helper, numpy_helper

TO = Path(__file__).parents[1] / "sulvet" / "core" / "video" / "data"
DETECTOR = "mediapipe/modules/face_detection/face_detection_short_range.tflite"
LANDMARKS = "mediapipe/modules/face_landmark/face_landmark_with_attention.tflite"
#: Each model: the graph it comes from, what goes in, and what comes out: by the graph's names, and
#: as Sulvet calls it. The package's sides are the picture's, Sulvet's the subject's own.
MODELS: dict[str, tuple[str, str, dict[str, str]]] = {
    "face_detector": (DETECTOR, "input", {"regressors": "boxes", "classificators": "scores"}),
    "face_mesh": (
        LANDMARKS, "input_1",
        {"output_mesh": "points", "conv_faceflag": "face", "p_re_lu_3": "features"},
    ),
    "face_lips": (LANDMARKS, "transform_tensor_bilinear_v2", {"conv_lips": "points"}),
    "face_right_eye": (
        LANDMARKS, "transform_tensor_bilinear_v2_1",
        {"conv_left_eye": "points", "conv_left_iris": "iris"},
    ),
    "face_left_eye": (
        LANDMARKS, "transform_tensor_bilinear_v2_2",
        {"conv_right_eye": "points", "conv_right_iris": "iris"},
    ),
}  # fmt: skip
NAMES = {code: name for name, code in vars(tflite.BuiltinOperator).items() if name.isupper()}
#: Of ONNX, and of its files.
OPSET, IR_VERSION = 17, 9


class Graph:
    """One graph of the package, and the ONNX nodes that do what its operators do.

    Tensors hold (N, H, W, C) there and (N, C, H, W) here.
    """

    def __init__(self, content: bytes) -> None:
        self._model = tflite.Model.GetRootAsModel(content, 0)
        self._graph = self._model.Subgraphs(0)
        self._made_by: dict[str, Any] = {}
        for k in range(self._graph.OperatorsLength()):
            operator = self._graph.Operators(k)
            for out in operator.OutputsAsNumpy():
                self._made_by[self._name(out)] = operator
        self._tensor = {self._name(k): k for k in range(self._graph.TensorsLength())}

    def model(self, entry: str, exits: dict[str, str]) -> Any:
        """The part of the graph that leads from one tensor to others, as a model.

        entry  the tensor that goes in, called ``picture``
        exits  those that come out, and what they are called then
        """
        self._nodes = [helper.make_node("Transpose", ["picture"], [entry], perm=[0, 3, 1, 2])]
        self._weights: list[Any] = []
        self._done = {entry}
        outputs = []
        for name, called in exits.items():
            self._make(name)
            shape = self._shape(name)
            if len(shape) == 4:
                self._node("Transpose", [name], called, perm=[0, 2, 3, 1])
            else:
                self._node("Identity", [name], called)
            outputs.append(helper.make_tensor_value_info(called, TensorProto.FLOAT, shape))
        picture = helper.make_tensor_value_info("picture", TensorProto.FLOAT, self._shape(entry))
        graph = helper.make_graph(self._nodes, "mesh", [picture], outputs, self._weights)
        made = helper.make_model(graph, opset_imports=[helper.make_opsetid("", OPSET)])
        made.ir_version = IR_VERSION
        onnx.checker.check_model(made)
        return made

    # -- what the graph says --------------------------------------------------------

    def _name(self, tensor: int) -> str:
        return str(self._graph.Tensors(tensor).Name().decode())

    def _shape(self, name: str) -> list[int]:
        return [int(n) for n in self._graph.Tensors(self._tensor[name]).ShapeAsNumpy()]

    def _constant(self, name: str) -> np.ndarray[Any, Any]:
        tensor = self._graph.Tensors(self._tensor[name])
        kind = {
            tflite.TensorType.FLOAT32: np.float32,
            tflite.TensorType.FLOAT16: np.float16,
            tflite.TensorType.INT32: np.int32,
        }[tensor.Type()]
        values = self._model.Buffers(tensor.Buffer()).DataAsNumpy()
        return np.frombuffer(values.tobytes(), kind).reshape(self._shape(name))

    # -- what is written ------------------------------------------------------------

    def _node(self, kind: str, inputs: list[str], output: str, **attributes: Any) -> None:
        self._nodes.append(helper.make_node(kind, inputs, [output], **attributes))

    def _weight(
        self, name: str, arranged: Callable[[np.ndarray[Any, Any]], np.ndarray[Any, Any]]
    ) -> str:
        """Write a constant once, in half precision where the package has it so."""
        if name in self._done:
            return name
        self._done.add(name)
        source = self._made_by.get(name)
        held = self._name(source.Inputs(0)) if source else name
        values = np.ascontiguousarray(arranged(self._constant(held)))
        if values.dtype == np.float16:
            self._weights.append(numpy_helper.from_array(values, name + "_half"))
            self._node("Cast", [name + "_half"], name, to=TensorProto.FLOAT)
        else:
            self._weights.append(numpy_helper.from_array(values, name))
        return name

    def _make(self, name: str) -> None:
        """The nodes that lead to a tensor."""
        if name in self._done:
            return
        self._done.add(name)
        operator = self._made_by[name]
        code = self._model.OperatorCodes(operator.OpcodeIndex())
        kind = NAMES[max(code.BuiltinCode(), code.DeprecatedBuiltinCode())]
        inputs = [self._name(k) for k in operator.InputsAsNumpy()]
        options: Any = operator.BuiltinOptions()
        getattr(self, f"_{kind.lower()}")(name, inputs, options)

    def _options(self, kind: Any, options: Any) -> Any:
        read = kind()
        read.Init(options.Bytes, options.Pos)
        return read

    def _rectified(self, name: str, activation: int) -> str:
        """Where a node's answer goes: through a rectifier, where the operator holds one."""
        if activation == tflite.ActivationFunctionType.NONE:
            return name
        assert activation == tflite.ActivationFunctionType.RELU, activation
        return name + "_linear"

    def _rectify(self, made: str, name: str) -> None:
        if made != name:
            self._node("Relu", [made], name)

    def _convolve(
        self, name: str, inputs: list[str], options: Any, order: tuple[int, ...], group: int
    ) -> None:
        source, weights, bias = inputs
        self._make(source)
        kernel = self._weight(weights, lambda values: values.transpose(order))
        same = options.Padding() == tflite.Padding.SAME
        made = self._rectified(name, options.FusedActivationFunction())
        self._node(
            "Conv", [source, kernel, self._weight(bias, lambda values: values)], made,
            strides=[options.StrideH(), options.StrideW()], group=group,
            auto_pad="SAME_UPPER" if same else "VALID",
        )  # fmt: skip
        self._rectify(made, name)

    # -- one for each operator that occurs ------------------------------------------

    def _conv_2d(self, name: str, inputs: list[str], options: Any) -> None:
        self._convolve(name, inputs, self._options(tflite.Conv2DOptions, options), (0, 3, 1, 2), 1)

    def _depthwise_conv_2d(self, name: str, inputs: list[str], options: Any) -> None:
        channels = self._shape(inputs[0])[3]
        read = self._options(tflite.DepthwiseConv2DOptions, options)
        self._convolve(name, inputs, read, (3, 0, 1, 2), channels)

    def _prelu(self, name: str, inputs: list[str], options: Any) -> None:
        self._make(inputs[0])
        slope = self._weight(inputs[1], lambda values: values.transpose(2, 0, 1))
        self._node("PRelu", [inputs[0], slope], name)

    def _relu(self, name: str, inputs: list[str], options: Any) -> None:
        self._make(inputs[0])
        self._node("Relu", inputs, name)

    def _add(self, name: str, inputs: list[str], options: Any) -> None:
        for source in inputs:
            self._make(source)
        read = self._options(tflite.AddOptions, options)
        made = self._rectified(name, read.FusedActivationFunction())
        self._node("Add", inputs, made)
        self._rectify(made, name)

    def _max_pool_2d(self, name: str, inputs: list[str], options: Any) -> None:
        self._make(inputs[0])
        read = self._options(tflite.Pool2DOptions, options)
        same = read.Padding() == tflite.Padding.SAME
        self._node(
            "MaxPool", inputs, name, kernel_shape=[read.FilterHeight(), read.FilterWidth()],
            strides=[read.StrideH(), read.StrideW()], auto_pad="SAME_UPPER" if same else "VALID",
        )  # fmt: skip

    def _pad(self, name: str, inputs: list[str], options: Any) -> None:
        self._make(inputs[0])
        before, after = self._constant(inputs[1])[[0, 3, 1, 2]].T
        widths = numpy_helper.from_array(
            np.concatenate([before, after]).astype(np.int64), name + "_widths"
        )
        self._weights.append(widths)
        self._node("Pad", [inputs[0], name + "_widths"], name)

    def _reshape(self, name: str, inputs: list[str], options: Any) -> None:
        self._make(inputs[0])
        self._node("Transpose", [inputs[0]], name + "_rows", perm=[0, 2, 3, 1])
        shape = numpy_helper.from_array(np.array(self._shape(name), np.int64), name + "_shape")
        self._weights.append(shape)
        self._node("Reshape", [name + "_rows", name + "_shape"], name)

    def _concatenation(self, name: str, inputs: list[str], options: Any) -> None:
        for source in inputs:
            self._make(source)
        self._node("Concat", inputs, name, axis=1)


def regions(content: bytes) -> str:
    """The points each region of the mesh refines, in the order its model answers (CSV)."""
    model = tflite.Model.GetRootAsModel(content, 0)
    graph = model.Subgraphs(0)
    rows = ["region,points"]
    wanted = ["lips", "right_eye", "left_eye"]
    for k in range(graph.OperatorsLength()):
        operator = graph.Operators(k)
        code = model.OperatorCodes(operator.OpcodeIndex())
        if (code.CustomCode() or b"") == b"Landmarks2TransformMatrix":
            options = flexbuffers.GetRoot(operator.CustomOptionsAsNumpy().tobytes()).AsMap
            points = " ".join(str(point) for point in options["subset_idxs"].Value)
            rows.append(f"{wanted.pop(0)},{points}")
    return "\n".join(rows) + "\n"


def main() -> None:
    """Write the models of a wheel."""
    with zipfile.ZipFile(sys.argv[1]) as wheel:
        for name, (source, entry, exits) in MODELS.items():
            onnx.save(Graph(wheel.read(source)).model(entry, exits), TO / f"{name}.onnx")
        (TO / "face_regions.csv").write_text(regions(wheel.read(LANDMARKS)), "utf-8")


if __name__ == "__main__":
    main()
