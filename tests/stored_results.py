"""Results of pure functions, kept in .cache until what computes them changes."""

from __future__ import annotations

import hashlib
import os
import pickle
from collections.abc import Callable, Iterator
from dataclasses import is_dataclass
from functools import wraps
from typing import Any, ParamSpec, TypeVar

import numpy as np
from pydantic import BaseModel

from tests import digests

FOLDER = digests.ROOT / ".cache" / "results"
P = ParamSpec("P")
R = TypeVar("R")


def stored(function: Callable[P, R], module: str = "") -> Callable[P, R]:
    """The same function, whose result for the same arguments is computed once for all tests.

    module  of Sulvet's, with what it imports, that results depend on; empty: the function's own
    """

    @wraps(function)
    def once(*args: P.args, **kwargs: P.kwargs) -> R:
        made_by = f"{digests.of_module(module or function.__module__)} {function.__qualname__}"
        asked = hashlib.sha256(made_by.encode() + b"".join(_spelled([args, kwargs])))
        path = FOLDER / asked.hexdigest()[:24]
        if path.exists():
            # What lies there this module has written.
            kept: R = pickle.loads(path.read_bytes())  # noqa: S301
            return kept
        result = function(*args, **kwargs)
        FOLDER.mkdir(parents=True, exist_ok=True)
        half = path.with_suffix(f".{os.getpid()}")
        half.write_bytes(pickle.dumps(result))
        half.replace(path)
        return result

    return once


def _spelled(value: Any) -> Iterator[bytes]:
    """A value as the same bytes in every process; a pickled set has no order."""
    if isinstance(value, np.ndarray):
        yield f"{value.dtype}{value.shape}".encode() + np.ascontiguousarray(value).tobytes()
    elif isinstance(value, BaseModel):
        yield f"{type(value).__name__}{value.model_dump_json()}".encode()
    elif isinstance(value, dict):
        for key, item in value.items():
            yield f"{key!r}:".encode()
            yield from _spelled(item)
    elif isinstance(value, list | tuple):
        yield f"{len(value)}:".encode()
        for item in value:
            yield from _spelled(item)
    elif is_dataclass(value) and not isinstance(value, type):
        yield type(value).__name__.encode()
        yield from _spelled(vars(value))
    else:
        yield f"{value!r};".encode()
