"""Training that can be stopped and taken up again."""

from __future__ import annotations

import os
import sys
import time
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
import torch
from torch import Tensor, nn
from torch.optim.swa_utils import AveragedModel, get_ema_multi_avg_fn
from torch.utils.data import DataLoader, Dataset

from training.augment import Drawn, corner_batch, files, lips_batch, mark_batch, place_batch
from training.networks import NETWORKS, closer_loss, mark_loss, place_loss
from training.restore import BATCHES, restored

BATCH = 32
#: The average of the weights over about this many steps is what is kept.
AVERAGED = 500
SAVE_EVERY = 250
MAKERS = {
    "marks": mark_batch, "place": place_batch, "corner": corner_batch, "lips": lips_batch,
}  # fmt: skip
LOSSES: dict[str, Any] = {
    "marks": mark_loss, "place": place_loss, "corner": closer_loss, "lips": closer_loss,
}  # fmt: skip
#: Which network begins with what another one of the same build has learnt, where that is there.
AKIN = {"lips": "corner"}
#: Seed of the first weights and of the first batch; the next batches follow it.
FIRST_SEED = 7_000_000


class Batches(Dataset[tuple[Any, dict[str, Any]]]):
    """All batches of a training, by the number of the step."""

    def __init__(self, kind: str, drawn: Drawn) -> None:
        self.make, self.drawn = MAKERS[kind], drawn

    def __getitem__(self, step: int) -> tuple[Any, dict[str, Any]]:
        return self.make(self.drawn, FIRST_SEED + step, BATCH)


def rate_at(step: int, first: int, steps: int, most: float) -> float:
    """Learning rate: up over the first steps of a run, then down along a cosine."""
    warm = min(1.0, (step - first + 1) / 200)
    share = min(1.0, (step - first) / max(steps - first, 1))
    return float(most * warm * (0.02 + 0.98 * 0.5 * (1 + np.cos(np.pi * share))))


def train(
    kind: str, pictures: Path, work: Path, steps: int, most_rate: float = 2e-3, workers: int = 1,
    further: bool = False,
) -> Path:  # fmt: skip
    """Train one network up to a number of steps; goes on from where it was stopped.

    further  begin with the committed network instead of by chance

    A run that was stopped goes on along its own cosine; one that had come to its end and is
    given more steps begins another.
    Returns the file of the averaged weights.
    """
    work.mkdir(parents=True, exist_ok=True)
    torch.manual_seed(FIRST_SEED)
    # What makes the batches needs a core of its own.
    torch.set_num_threads(max(1, (os.cpu_count() or 1) - workers))
    state = work / f"{kind}.state.pt"
    drawn = Drawn(files(pictures))
    begun = _committed(kind, drawn) if further and not state.exists() else _new(kind, work)
    model = begun.to(memory_format=torch.channels_last)
    optimizer = torch.optim.AdamW(model.parameters(), most_rate, weight_decay=1e-4)
    mean = AveragedModel(
        model, multi_avg_fn=get_ema_multi_avg_fn(1 - 1 / AVERAGED), use_buffers=True
    )
    step = first = 0
    if state.exists():
        old = torch.load(state, weights_only=True)
        model.load_state_dict(old["model"])
        mean.load_state_dict(old["mean"])
        optimizer.load_state_dict(old["optimizer"])
        step, first = old["step"], old["first"] if old["last"] == steps else old["step"]
        say(f"{kind}: going on at step {step}")
    say(f"{kind}: {len(drawn)} pictures")
    batches = DataLoader(
        Batches(kind, drawn), batch_size=None, sampler=range(step, steps), num_workers=workers,
        worker_init_fn=_give_way, prefetch_factor=6 if workers else None,
        multiprocessing_context="fork" if workers else None,
    )  # fmt: skip
    losses: list[tuple[float, float]] = []
    since = time.time()
    model.train()
    for shown, truth in batches:
        for group in optimizer.param_groups:
            group["lr"] = rate_at(step, first, steps, most_rate)
        # A network that has learnt already says how sure it is from the first step on.
        sure = 1.0 if further else float(np.clip((step - 600) / 600, 0, 1))
        likelihood = sure * 0.6
        cost = LOSSES[kind] if kind == "place" else partial(LOSSES[kind], likelihood=likelihood)
        losses.append(_step(model, optimizer, shown, truth, cost))
        mean.update_parameters(model)
        step += 1
        if step % 50 == 0:
            seen = np.mean(losses[-50:], axis=0)
            pace = 50 * BATCH / (time.time() - since)
            since = time.time()
            say(f"{kind} {step}/{steps}: loss {seen[0]:.3f}, off {seen[1]:.3f}, {pace:.0f}/s")
        if step % SAVE_EVERY == 0 or step == steps:
            _save(state, {
                "model": model.state_dict(), "mean": mean.state_dict(),
                "optimizer": optimizer.state_dict(), "step": step, "first": first, "last": steps,
            })  # fmt: skip
            _save(work / f"{kind}.pt", mean.module.state_dict())
    return work / f"{kind}.pt"


def _new(kind: str, work: Path) -> nn.Module:
    """A network that knows nothing, or what one like it has learnt to see."""
    network = NETWORKS[kind]()
    akin = work / f"{AKIN.get(kind, '')}.pt"
    if akin.exists():
        own, learnt = network.state_dict(), torch.load(akin, weights_only=True)
        network.load_state_dict(own | {n: w for n, w in learnt.items() if own[n].shape == w.shape})
    return network


def _committed(kind: str, drawn: Drawn) -> nn.Module:
    """The committed network, fitted to what it will be shown."""
    batches = (MAKERS[kind](drawn, FIRST_SEED - 1 - k, BATCH)[0] for k in range(BATCHES))
    return restored(kind, [torch.as_tensor(one) for one in batches])


def _give_way(worker: int) -> None:
    """What makes batches runs behind what learns from them."""
    del worker
    os.nice(1)


def _step(
    model: nn.Module, optimizer: torch.optim.Optimizer, shown: Tensor, truth: dict[str, Tensor],
    cost: Any,
) -> tuple[float, float]:  # fmt: skip
    """One step down; what it cost and how far off."""
    loss, far = cost(truth, model(shown.permute(0, 3, 1, 2).float()))
    optimizer.zero_grad()
    loss.backward()
    nn.utils.clip_grad_norm_(model.parameters(), 5.0)
    optimizer.step()
    return float(loss.detach()), float(far)


def _save(path: Path, what: dict[str, Any]) -> None:
    half = path.with_suffix(".part")
    torch.save(what, half)
    half.rename(path)


def say(sentence: str) -> None:
    """One line of progress."""
    sys.stdout.write(sentence + "\n")
    sys.stdout.flush()
