"""From the committed files back to networks that can be trained further.

The files hold convolutions with their normalisation folded in. What was folded is learnt again from
what the convolutions give on drawn pictures, so that the network answers as the file does.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
import onnx
import torch
from onnx import numpy_helper
from torch import Tensor, nn

from training.export import TO
from training.networks import NETWORKS, Convolution

#: On so many batches what a convolution gives is looked at.
BATCHES = 12
PREFIX = "network."


def restored(kind: str, batches: list[Tensor], folder: Path = TO) -> nn.Module:
    """The committed network, ready to be trained.

    batches  pictures as they are trained on, each (N, H, W, 3) of 0..255
    """
    network = NETWORKS[kind]().eval()
    weights, biases = _kept(folder / f"{kind}.onnx")
    normal = []
    with torch.no_grad():
        for name, module in network.named_modules():
            if isinstance(module, Convolution):
                convolution, norm = module[1], module[2]
                assert isinstance(convolution, nn.Conv2d) and isinstance(norm, nn.BatchNorm2d)
                convolution.weight.copy_(weights[f"{name}.1.weight"])
                norm.weight.fill_((1 + norm.eps) ** 0.5)
                norm.bias.copy_(biases[f"{name}.1.weight"])
                normal.append((convolution, norm))
            elif isinstance(module, nn.Linear | nn.Conv2d) and module.bias is not None:
                module.weight.copy_(weights[f"{name}.weight"].view_as(module.weight))
                module.bias.copy_(biases[f"{name}.weight"])
        _unfold(network, normal, batches)
    return network


def _unfold(
    network: nn.Module, normal: list[tuple[nn.Conv2d, nn.BatchNorm2d]], batches: list[Tensor]
) -> None:
    """Give each normalisation the mean and spread of what it is given; the answer stays."""
    sums = {norm: [torch.zeros(norm.num_features) for _ in range(2)] for _, norm in normal}
    counts = dict.fromkeys(sums, 0)

    def note(norm: nn.BatchNorm2d, given: Tensor) -> None:
        sums[norm][0] += given.sum((0, 2, 3))
        sums[norm][1] += given.square().sum((0, 2, 3))
        counts[norm] += given.numel() // norm.num_features

    hooks = [
        convolution.register_forward_hook(lambda _m, _i, out, norm=norm: note(norm, out))
        for convolution, norm in normal
    ]
    for batch in batches:
        network(batch.permute(0, 3, 1, 2).float())
    for hook in hooks:
        hook.remove()
    for _, norm in normal:
        assert norm.running_mean is not None and norm.running_var is not None
        mean = sums[norm][0] / counts[norm]
        spread = (sums[norm][1] / counts[norm] - mean.square()).clamp(min=1e-8)
        norm.running_mean.copy_(mean)
        norm.running_var.copy_(spread)
        norm.weight.copy_((spread + norm.eps).sqrt())
        norm.bias.add_(mean)


def _kept(path: Path) -> tuple[dict[str, Tensor], dict[str, Tensor]]:
    """Weights by the names of their modules, and the biases that go with them."""
    graph = onnx.load(path).graph
    arrays = {one.name: numpy_helper.to_array(one) for one in graph.initializer}
    for node in graph.node:
        if node.op_type == "Cast" and node.input[0] in arrays:
            arrays[node.output[0]] = arrays[node.input[0]].astype(np.float32)
    weights, biases = {}, {}
    for node in graph.node:
        if node.op_type not in ("Conv", "Gemm"):
            continue
        name = node.input[1].removeprefix(PREFIX)
        weights[name] = torch.tensor(arrays[node.input[1]])
        biases[name] = torch.tensor(arrays[node.input[2]])
    return weights, biases
