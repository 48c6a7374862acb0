"""Training that can be stopped and taken up again."""

from __future__ import annotations

import multiprocessing
import os
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import keras
import numpy as np
import tensorflow as tf

from training import networks
from training.augment import Drawn, files, mark_batch, place_batch

BATCH = 32
#: The average of the weights over about this many steps is what is kept.
AVERAGED = 400
SAVE_EVERY = 250
_drawn: Drawn | None = None
MAKERS = {"marks": mark_batch, "place": place_batch}
BUILDERS = {"marks": networks.mark_network, "place": networks.place_network}


def _begin(paths: list[Path]) -> None:
    global _drawn
    os.nice(1)
    _drawn = Drawn(paths)


def _make(job: tuple[str, int]) -> tuple[np.ndarray, dict[str, np.ndarray]]:
    assert _drawn is not None
    return MAKERS[job[0]](_drawn, job[1], BATCH)


def _batches(kind: str, paths: list[Path], first: int, count: int, workers: int) -> Iterator[Any]:
    context = multiprocessing.get_context("spawn")
    with context.Pool(workers, _begin, (paths,)) as pool:
        jobs = ((kind, 7_000_000 + n) for n in range(first, count))
        waiting: list[Any] = []
        for job in jobs:
            waiting.append(pool.apply_async(_make, (job,)))
            if len(waiting) > 12:
                yield waiting.pop(0).get()
        while waiting:
            yield waiting.pop(0).get()


def rate_at(step: int, steps: int, most: float) -> float:
    """Learning rate: up over the first steps, then down along a cosine."""
    warm = min(1.0, (step + 1) / 200)
    return float(most * warm * (0.02 + 0.98 * 0.5 * (1 + np.cos(np.pi * min(1.0, step / steps)))))


def train(
    kind: str, pictures: Path, work: Path, steps: int, most_rate: float = 2e-3, workers: int = 1
) -> Path:
    """Train one network; goes on from where it was stopped. Returns the weights' file."""
    work.mkdir(parents=True, exist_ok=True)
    kept, state = work / f"{kind}.weights.h5", work / f"{kind}.state.npz"
    model = BUILDERS[kind]()
    optimizer = keras.optimizers.AdamW(most_rate, weight_decay=1e-4, clipnorm=5.0)
    optimizer.build(model.trainable_variables)
    averaged = [tf.Variable(v) for v in model.weights]
    first = 0
    if state.exists():
        with np.load(state, allow_pickle=True) as old:
            first = int(old["step"])
            for k, variable in enumerate(model.weights):
                variable.assign(old[f"w{k}"])
                averaged[k].assign(old[f"a{k}"])
            for k, variable in enumerate(optimizer.variables):
                if f"o{k}" in old.files and old[f"o{k}"].shape == tuple(variable.shape):
                    variable.assign(old[f"o{k}"])
        say(f"{kind}: going on at step {first}")

    @tf.function(jit_compile=False)
    def step_once(pictures: Any, truth: dict[str, Any], likelihood: Any) -> Any:
        with tf.GradientTape() as tape:
            answer = model(tf.cast(pictures, tf.float32), training=True)
            if kind == "marks":
                loss, far = networks.mark_loss(truth, answer, likelihood)
            else:
                loss, far = networks.place_loss(truth, answer)
        grads = tape.gradient(loss, model.trainable_variables)
        optimizer.apply_gradients(zip(grads, model.trainable_variables, strict=True))
        return loss, far

    losses: list[tuple[float, float]] = []
    since = time.time()
    step = first
    for pictures_, truth in _batches(kind, files(pictures), first, steps, workers):
        optimizer.learning_rate.assign(rate_at(step, steps, most_rate))
        sure = float(np.clip((step - 600) / 600, 0, 1)) * 0.6
        loss, far = step_once(pictures_, truth, tf.constant(sure, tf.float32))
        losses.append((float(loss), float(far)))
        step += 1
        share = min(1 - 1 / AVERAGED, step / (step + 20))
        for mean, now in zip(averaged, model.weights, strict=True):
            mean.assign(share * mean + (1 - share) * now)
        if step % 50 == 0:
            seen = np.mean(losses[-50:], axis=0)
            pace = 50 * BATCH / (time.time() - since)
            since = time.time()
            say(
                f"{kind} {step}/{steps}: loss {seen[0]:.3f}, off {seen[1]:.3f}, {pace:.0f} a second"
            )
        if step % SAVE_EVERY == 0 or step == steps:
            _save(model, averaged, optimizer, step, kept, state)
    return kept


def _save(
    model: Any, averaged: list[Any], optimizer: Any, step: int, kept: Path, state: Path
) -> None:
    arrays = {"step": np.array(step)}
    arrays |= {f"w{k}": v.numpy() for k, v in enumerate(model.weights)}
    arrays |= {f"a{k}": v.numpy() for k, v in enumerate(averaged)}
    arrays |= {f"o{k}": v.numpy() for k, v in enumerate(optimizer.variables)}
    half = state.with_suffix(".part.npz")
    np.savez(half, **arrays)
    half.rename(state)
    now = [v.numpy() for v in model.weights]
    for variable, mean in zip(model.weights, averaged, strict=True):
        variable.assign(mean)
    model.save_weights(kept)
    for variable, value in zip(model.weights, now, strict=True):
        variable.assign(value)


def say(sentence: str) -> None:
    """One line of progress."""
    sys.stdout.write(sentence + "\n")
    sys.stdout.flush()
