"""The four networks and what they are punished for.

Tensors are (batch, channel, height, width); places are x, y in pixels of what is looked at.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

import torch
import torch.nn.functional as F
from torch import Tensor, nn

from sulvet.core.video.crops import (
    CLOSER_STRIDE,
    LOCATE_SIDE,
    LOCATE_STRIDE,
    MARK_STRIDE,
    USUAL_UNIT,
)
from sulvet.core.video.network_points import LIPS, POINTS

COUNT = len(POINTS)
#: Least and greatest standard deviation the second network may claim, pixels of the crop.
LEAST_SIGMA, MOST_SIGMA = 0.25, 40.0
#: Width of the target on the maps, cells.
TARGET = 1.0


class Convolution(nn.Sequential):
    """A convolution without bias and its normalisation; a stride of 2 halves even sides."""

    def __init__(self, before: int, width: int, stride: int = 1, size: int = 3) -> None:
        # A cell of a halved grid lies right between its four: padded on one side alone.
        pad = nn.ZeroPad2d((0, 1, 0, 1)) if stride == 2 else nn.Identity()
        padding = size // 2 if stride == 1 else 0
        super().__init__(
            pad, nn.Conv2d(before, width, size, stride, padding, bias=False),
            nn.BatchNorm2d(width, eps=1e-3, momentum=0.02),
        )  # fmt: skip


class Block(nn.Module):
    """Two convolutions and a way round them."""

    def __init__(self, width: int) -> None:
        super().__init__()
        self.first, self.second = Convolution(width, width), Convolution(width, width)

    def forward(self, x: Tensor) -> Tensor:
        """(N, C, H, W) to the same."""
        return F.relu(x + self.second(F.relu(self.first(x))))


class Down(nn.Module):
    """Half the sides, then blocks."""

    def __init__(self, before: int, width: int, blocks: int) -> None:
        super().__init__()
        self.smaller = Convolution(before, width, 2)
        self.blocks = nn.Sequential(*(Block(width) for _ in range(blocks)))

    def forward(self, x: Tensor) -> Tensor:
        """(N, C, H, W) to half of H and W."""
        return self.blocks(F.relu(self.smaller(x)))


class Up(nn.Module):
    """Twice the sides, joined with what was there on the way down, then a block."""

    def __init__(self, before: int, skipped: int, width: int) -> None:
        super().__init__()
        self.coarse = Convolution(before, width, size=1)
        self.fine = Convolution(skipped, width, size=1)
        self.block = Block(width)

    def forward(self, x: Tensor, skip: Tensor) -> Tensor:
        """(N, C, H, W) and (N, S, 2H, 2W) to (N, width, 2H, 2W)."""
        return self.block(F.relu(F.interpolate(self.coarse(x), scale_factor=2) + self.fine(skip)))


def _normal(picture: Tensor) -> Tensor:
    return picture / 127.5 - 1.0


class PlaceNetwork(nn.Module):
    """Where is a mouth, how large, and how turned: one answer for each cell of a grid.

    Channels: logit; x and y from the cell's middle, cells; logarithm of the mouth's width,
    over the side; sine and cosine of yaw; sine and cosine of roll. Beside the grid one logit
    for no mouth at all.
    """

    outputs = ("cells", "none")

    def __init__(self) -> None:
        super().__init__()
        self.stem = Convolution(3, 12, 2)
        self.four = Down(12, 24, 0)
        self.eight = Down(24, 40, 1)
        self.sixteen = Down(40, 64, 2)
        self.thirty_two = Down(64, 96, 2)
        self.whole, self.told = nn.Linear(96, 96), nn.Linear(96, 96)
        self.up_sixteen, self.up_eight = Up(96, 64, 64), Up(64, 40, 48)
        self.cells, self.none = nn.Conv2d(48, 8, 1), nn.Linear(96, 1)

    def forward(self, picture: Tensor) -> tuple[Tensor, Tensor]:
        """(N, 3, 160, 160) of 0..255 to (N, 8, 20, 20) and (N, 1)."""
        eight = self.eight(self.four(F.relu(self.stem(_normal(picture)))))
        sixteen = self.sixteen(eight)
        thirty_two = self.thirty_two(sixteen)
        # What the whole picture is of, told to every cell.
        whole = F.relu(self.whole(thirty_two.mean((2, 3))))
        x = thirty_two + self.told(whole)[..., None, None]
        x = self.up_eight(self.up_sixteen(x, sixteen), eight)
        return self.cells(x), self.none(whole)


class MarkNetwork(nn.Module):
    """Landmarks of a crop: maps, spreads, visibilities, and how the head is turned.

    For each point a map of where it may be, of its log sigma and of whether it is seen there;
    beside them a logit of whether it is seen at all. The five of ``turn``: sine and cosine of
    yaw; pitch and roll, radians; logarithm of the mouth's width in the crop over the usual one.
    """

    outputs = ("maps", "spread", "shown", "overall", "turn")

    def __init__(self) -> None:
        super().__init__()
        self.stem = Convolution(3, 16, 2)
        self.four, self.eight = Down(16, 32, 1), Down(32, 48, 2)
        self.sixteen, self.deep = Down(48, 80, 3), Down(80, 112, 2)
        self.up_sixteen, self.up_eight = Up(112, 80, 80), Up(80, 48, 48)
        self.up_four = Up(48, 32, 40)
        self.maps, self.spread = nn.Conv2d(40, COUNT, 1), nn.Conv2d(40, COUNT, 1)
        self.shown = nn.Conv2d(40, COUNT, 1)
        self.whole, self.overall, self.turn = (
            nn.Linear(112, 128), nn.Linear(128, COUNT), nn.Linear(128, 5),
        )  # fmt: skip

    def forward(self, crop: Tensor) -> tuple[Tensor, Tensor, Tensor, Tensor, Tensor]:
        """(N, 3, 160, 160) of 0..255 to three of (N, P, 40, 40), (N, P) and (N, 5)."""
        four = self.four(F.relu(self.stem(_normal(crop))))
        eight = self.eight(four)
        sixteen = self.sixteen(eight)
        deep = self.deep(sixteen)
        x = self.up_four(self.up_eight(self.up_sixteen(deep, sixteen), eight), four)
        whole = F.relu(self.whole(deep.mean((2, 3))))
        return self.maps(x), self.spread(x), self.shown(x), self.overall(whole), self.turn(whole)


class CloserNetwork(nn.Module):
    """Some landmarks in a small crop round them, as finely as the picture shows them.

    points  how many
    """

    outputs = ("maps", "spread", "shown", "overall")

    def __init__(self, points: int) -> None:
        super().__init__()
        self.stem = Convolution(3, 16, 2)
        self.four, self.eight = Down(16, 32, 2), Down(32, 56, 2)
        self.sixteen = Down(56, 80, 2)
        self.up_eight, self.up_four = Up(80, 56, 56), Up(56, 32, 32)
        self.maps, self.spread, self.shown = (nn.Conv2d(32, points, 1) for _ in range(3))
        self.whole, self.overall = nn.Linear(80, 64), nn.Linear(64, points)

    def forward(self, crop: Tensor) -> tuple[Tensor, Tensor, Tensor, Tensor]:
        """(N, 3, 96, 96) of 0..255 to three of (N, P, 24, 24) and (N, P)."""
        four = self.four(F.relu(self.stem(_normal(crop))))
        eight = self.eight(four)
        sixteen = self.sixteen(eight)
        x = self.up_four(self.up_eight(sixteen, eight), four)
        whole = F.relu(self.whole(sixteen.mean((2, 3))))
        return self.maps(x), self.spread(x), self.shown(x), self.overall(whole)


NETWORKS: dict[str, Callable[[], nn.Module]] = {
    "place": PlaceNetwork, "marks": MarkNetwork, "corner": partial(CloserNetwork, 1),
    "lips": partial(CloserNetwork, len(LIPS)),
}  # fmt: skip


def mark_loss(
    truth: dict[str, Tensor], answer: tuple[Tensor, ...], likelihood: float
) -> tuple[Tensor, Tensor]:
    """What ``points_loss`` says, and the head's turn."""
    loss, far = points_loss(truth, answer[:4], MARK_STRIDE, likelihood)
    angle = truth["turn"] * (math.pi / 180)
    aim = torch.stack([
        angle[:, 0].sin(), angle[:, 0].cos(), angle[:, 1], angle[:, 2],
        (truth["unit"] / USUAL_UNIT).log(),
    ], -1)  # fmt: skip
    turned = (answer[4] - aim).abs().sum(-1).mean()
    return loss + turned, far


def points_loss(
    truth: dict[str, Tensor], answer: tuple[Tensor, ...], stride: int, likelihood: float
) -> tuple[Tensor, Tensor]:
    """Cross-entropy of the maps, distance of the means, Gaussian likelihood, visibility.

    stride      pixels of the crop for one cell of the maps
    likelihood  weight of the Gaussian likelihood: nothing while the maps are still vague
    Returns the loss, and how far the places are off on average, pixels.
    """
    maps, spread, shown, overall = answer
    weight = truth["weight"]
    total = weight.sum() + 1e-6
    count, side = maps.shape[1], maps.shape[2]
    at = (torch.arange(side, dtype=torch.float32) + 0.5) * stride - 0.5
    logs = F.log_softmax(maps.flatten(2), -1)
    share = logs.exp().view(-1, count, side, side)
    xy = torch.stack([share.sum(2) @ at, share.sum(3) @ at], -1)
    still = share.detach()
    log_sigma = (still * spread).sum((2, 3)).clamp(math.log(LEAST_SIGMA), math.log(MOST_SIGMA))
    seen = (still * shown).sum((2, 3)) + overall
    target = F.softmax(-0.5 * ((at - truth["xy"][..., None]) / (TARGET * stride)) ** 2, -1)
    tx, ty = target[..., 0, :], target[..., 1, :]
    by_row = torch.einsum("bkyx,bkx->bky", logs.view(-1, count, side, side), tx)
    entropy = -(by_row * ty).sum(-1)
    error = truth["xy"] - xy
    far = (error.square().sum(-1) + 1e-6).sqrt()
    # The likelihood teaches how sure a place is; the place itself is taught by the map and the
    # distance, or a place that is sure and wrong would drown all others.
    gauss = 0.5 * error.detach().square().sum(-1) * torch.exp(-2 * log_sigma) + 2 * log_sigma
    marks = (weight * (entropy + 0.15 * far + likelihood * gauss)).sum() / total
    visible = F.binary_cross_entropy_with_logits(seen, truth["seen"])
    return marks + 3.0 * visible, (weight * far.detach()).sum() / total


def closer_loss(
    truth: dict[str, Tensor], answer: tuple[Tensor, ...], likelihood: float
) -> tuple[Tensor, Tensor]:
    """As ``points_loss``, of a closer look."""
    return points_loss(truth, answer, CLOSER_STRIDE, likelihood)


def place_loss(truth: dict[str, Tensor], answer: tuple[Tensor, ...]) -> tuple[Tensor, Tensor]:
    """Cross-entropy over the cells and no mouth, and what the cells near the mouth say.

    Returns the loss and its first part.
    """
    cells, none = answer
    side = LOCATE_SIDE // LOCATE_STRIDE
    at = (torch.arange(side, dtype=torch.float32) + 0.5) * LOCATE_STRIDE - 0.5
    off = (truth["mouth"][..., None] - at) / LOCATE_STRIDE
    off_x, off_y = off[:, 0, None, :].expand(-1, side, -1), off[:, 1, :, None].expand(-1, -1, side)
    far = off_x**2 + off_y**2
    there = (truth["mouth"][:, 0] > -100).float()
    heat = torch.exp(-0.5 * far / 0.7**2) * there[:, None, None]
    heat = heat / (heat.sum((1, 2), keepdim=True) + 1e-6)
    target = torch.cat([heat.flatten(1), 1 - there[:, None]], 1)
    found = F.cross_entropy(torch.cat([cells[:, 0].flatten(1), none], 1), target)
    near = torch.exp(-0.5 * far / 1.2**2) * there[:, None, None]
    angle = truth["turn"] * (math.pi / 180)
    whole = [
        (truth["unit"] / LOCATE_SIDE).log(),
        angle[:, 0].sin(), angle[:, 0].cos(), angle[:, 2].sin(), angle[:, 2].cos(),
    ]  # fmt: skip
    told = torch.stack([off_x, off_y, *(v[:, None, None].expand_as(off_x) for v in whole)], 1)
    weights = torch.tensor([0.5, 0.5, 2.0, 1.0, 1.0, 1.0, 1.0])
    wrong = ((cells[:, 1:] - told).abs() * weights[:, None, None]).sum(1)
    said = (near * wrong).sum() / (near.sum() + 1e-6)
    return found + 0.7 * said, found.detach()
