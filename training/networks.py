"""The two networks and what they are punished for."""

from __future__ import annotations

import keras
import tensorflow as tf
from keras import layers

from sulvet.core.video.crops import (
    LOCATE_SIDE,
    LOCATE_STRIDE,
    MARK_SIDE,
    MARK_STRIDE,
    USUAL_UNIT,
)
from sulvet.core.video.network_points import POINTS

COUNT = len(POINTS)
#: Least and greatest standard deviation the second network may claim, pixels of the crop.
LEAST_SIGMA, MOST_SIGMA = 0.25, 40.0
#: Width of the target on the maps, cells.
TARGET = 1.0


def _convolution(x, width: int, stride: int = 1, size: int = 3):
    x = layers.Conv2D(width, size, stride, padding="same", use_bias=False)(x)
    return layers.BatchNormalization(momentum=0.98)(x)


def _block(x, width: int):
    """Two convolutions and a way round them."""
    way = x if x.shape[-1] == width else _convolution(x, width, size=1)
    y = layers.Activation("relu")(_convolution(x, width))
    return layers.Activation("relu")(layers.add([way, _convolution(y, width)]))


def _down(x, width: int):
    return layers.Activation("relu")(_convolution(x, width, 2))


def _up(x, skip, width: int):
    x = layers.UpSampling2D(interpolation="nearest")(_convolution(x, width, size=1))
    return layers.Activation("relu")(layers.add([x, _convolution(skip, width, size=1)]))


def _normal(x):
    return layers.Rescaling(1 / 127.5, -1.0)(x)


def place_network() -> keras.Model:
    """Where is a mouth, how large, and how turned: one answer for each cell of a grid.

    Channels: logit; x and y from the cell's middle, cells; logarithm of the mouth's width,
    over the side; sine and cosine of yaw; sine and cosine of roll. Beside the grid one logit
    for no mouth at all.
    """
    inputs = keras.Input((LOCATE_SIDE, LOCATE_SIDE, 3), name="picture")
    x = layers.Activation("relu")(_convolution(_normal(inputs), 12, 2))
    eight = _block(_down(_down(x, 24), 40), 40)
    sixteen = _block(_block(_down(eight, 64), 64), 64)
    thirty_two = _block(_block(_down(sixteen, 96), 96), 96)
    pooled = layers.GlobalAveragePooling2D()(thirty_two)
    # What the whole picture is of, told to every cell.
    whole = layers.Dense(96, activation="relu")(pooled)
    x = layers.add([thirty_two, layers.Reshape((1, 1, 96))(layers.Dense(96)(whole))])
    x = _block(_up(x, sixteen, 64), 64)
    x = _block(_up(x, eight, 48), 48)
    return keras.Model(
        inputs,
        [layers.Conv2D(8, 1, name="cells")(x), layers.Dense(1, name="none")(whole)],
        name="place",
    )


def mark_network() -> keras.Model:
    """Landmarks of a crop: maps, places, sigmas, visibilities, and how the head is turned.

    The last channels: sine and cosine of yaw; pitch and roll, radians; logarithm of the
    mouth's width in the crop over the usual one.
    """
    inputs = keras.Input((MARK_SIDE, MARK_SIDE, 3), name="crop")
    x = layers.Activation("relu")(_convolution(_normal(inputs), 16, 2))
    four = _block(_down(x, 32), 32)
    eight = _block(_block(_down(four, 48), 48), 48)
    sixteen = _block(_block(_block(_down(eight, 80), 80), 80), 80)
    deep = _block(_block(_down(sixteen, 112), 112), 112)
    x = _block(_up(deep, sixteen, 80), 80)
    x = _block(_up(x, eight, 48), 48)
    x = _block(_up(x, four, 40), 40)
    maps = layers.Conv2D(COUNT, 1, name="maps")(x)
    spread = layers.Conv2D(COUNT, 1, name="spread")(x)
    shown = layers.Conv2D(COUNT, 1, name="shown")(x)
    pooled = layers.GlobalAveragePooling2D()(deep)
    pooled = layers.Dense(128, activation="relu")(pooled)
    xy, log_sigma, seen = _Read(name="read")([maps, spread, shown])
    seen = layers.add([seen, layers.Dense(COUNT, name="overall")(pooled)], name="seen")
    turn = layers.Dense(5, name="turn")(pooled)
    return keras.Model(inputs, [maps, xy, log_sigma, seen, turn], name="marks")


def bare(model: keras.Model) -> keras.Model:
    """The second network without its read-out, which Sulvet does itself."""
    names = ("maps", "spread", "shown", "overall", "turn")
    return keras.Model(model.input, [model.get_layer(name).output for name in names])


class _Read(layers.Layer):
    """Mean place over each map, and the other maps read there."""

    def call(self, inputs):
        maps, spread, shown = inputs
        side = MARK_SIDE // MARK_STRIDE
        flat = tf.reshape(maps, (-1, side * side, COUNT))
        share = tf.nn.softmax(flat, axis=1)
        at = (tf.range(side, dtype=tf.float32) + 0.5) * MARK_STRIDE - 0.5
        grid = tf.stack(tf.meshgrid(at, at), -1)
        xy = tf.einsum("bnk,nc->bkc", share, tf.reshape(grid, (-1, 2)))
        still = tf.stop_gradient(share)
        log_sigma = tf.reduce_sum(still * tf.reshape(spread, (-1, side * side, COUNT)), 1)
        seen = tf.reduce_sum(still * tf.reshape(shown, (-1, side * side, COUNT)), 1)
        log_sigma = tf.clip_by_value(log_sigma, tf.math.log(LEAST_SIGMA), tf.math.log(MOST_SIGMA))
        return xy, log_sigma, seen


def mark_loss(truth, answer, likelihood):
    """Cross-entropy of the maps, distance of the means, Gaussian likelihood, visibility, turn.

    likelihood  weight of the Gaussian likelihood: nothing while the maps are still vague
    """
    maps, xy, log_sigma, seen, turn = answer
    weight = truth["weight"]
    total = tf.reduce_sum(weight) + 1e-6
    side = MARK_SIDE // MARK_STRIDE
    at = (tf.range(side, dtype=tf.float32) + 0.5) * MARK_STRIDE - 0.5
    dx = (at[None, None] - truth["xy"][..., :1]) / (TARGET * MARK_STRIDE)
    dy = (at[None, None] - truth["xy"][..., 1:]) / (TARGET * MARK_STRIDE)
    tx, ty = tf.nn.softmax(-0.5 * dx**2), tf.nn.softmax(-0.5 * dy**2)
    flat = tf.reshape(maps, (-1, side * side, COUNT))
    logs = flat - tf.reduce_logsumexp(flat, axis=1, keepdims=True)
    grid = tf.reshape(logs, (-1, side, side, COUNT))
    entropy = -tf.einsum("byxk,bky,bkx->bk", grid, ty, tx)
    error = truth["xy"] - xy
    far = tf.sqrt(tf.reduce_sum(error**2, -1) + 1e-6)
    variance = tf.exp(2 * log_sigma)
    # The likelihood teaches how sure a place is; the place itself is taught by the map and the
    # distance, or a place that is sure and wrong would drown all others.
    gauss = 0.5 * tf.reduce_sum(tf.stop_gradient(error) ** 2, -1) / variance + 2 * log_sigma
    marks = tf.reduce_sum(weight * (entropy + 0.15 * far + likelihood * gauss)) / total
    visible = tf.reduce_mean(tf.nn.sigmoid_cross_entropy_with_logits(truth["seen"], seen))
    angle = truth["turn"] * (3.14159265 / 180)
    aim = tf.stack([tf.sin(angle[:, 0]), tf.cos(angle[:, 0]), angle[:, 1], angle[:, 2],
                    tf.math.log(truth["unit"] / USUAL_UNIT)], -1)  # fmt: skip
    turned = tf.reduce_mean(tf.reduce_sum(tf.abs(turn - aim), -1))
    return marks + 3.0 * visible + 1.0 * turned, tf.reduce_sum(weight * far) / total


def place_loss(truth, answer):
    """Cross-entropy over the cells and no mouth, and what the cells near the mouth say."""
    cells, none = answer
    side = LOCATE_SIDE // LOCATE_STRIDE
    at = (tf.range(side, dtype=tf.float32) + 0.5) * LOCATE_STRIDE - 0.5
    off_x = (truth["mouth"][:, None, None, 0] - at[None, None]) / LOCATE_STRIDE
    off_y = (truth["mouth"][:, None, None, 1] - at[None, :, None]) / LOCATE_STRIDE
    off_x, off_y = off_x + 0 * off_y, off_y + 0 * off_x
    far = off_x**2 + off_y**2
    there = tf.cast(truth["mouth"][:, 0] > -100, tf.float32)
    heat = tf.exp(-0.5 * far / 0.7**2) * there[:, None, None]
    heat = heat / (tf.reduce_sum(heat, (1, 2), keepdims=True) + 1e-6)
    target = tf.concat([tf.reshape(heat, (-1, side * side)), 1 - there[:, None]], 1)
    logits = tf.concat([tf.reshape(cells[..., 0], (-1, side * side)), none], 1)
    found = tf.reduce_mean(tf.nn.softmax_cross_entropy_with_logits(target, logits))
    near = tf.exp(-0.5 * far / 1.2**2) * there[:, None, None]
    angle = truth["turn"] * (3.14159265 / 180)
    whole = [
        tf.math.log(truth["unit"] / LOCATE_SIDE),
        tf.sin(angle[:, 0]), tf.cos(angle[:, 0]), tf.sin(angle[:, 2]), tf.cos(angle[:, 2]),
    ]  # fmt: skip
    told = [off_x, off_y, *(value[:, None, None] + 0 * off_x for value in whole)]
    weights = (0.5, 0.5, 2.0, 1.0, 1.0, 1.0, 1.0)
    wrong = sum(
        weight * tf.abs(cells[..., 1 + k] - value)
        for k, (weight, value) in enumerate(zip(weights, told, strict=True))
    )
    said = tf.reduce_sum(near * wrong) / (tf.reduce_sum(near) + 1e-6)
    return found + 0.7 * said, found
