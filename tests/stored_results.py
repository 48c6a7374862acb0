"""Results of pure functions, kept in .cache until what computes them changes."""

from __future__ import annotations

import hashlib
import os
import pickle
from collections.abc import Callable
from functools import wraps
from typing import ParamSpec, TypeVar

from tests import digests

FOLDER = digests.ROOT / ".cache" / "results"
P = ParamSpec("P")
R = TypeVar("R")


def stored(function: Callable[P, R]) -> Callable[P, R]:
    """The same function, whose result for the same arguments is computed once for all tests.

    What it returns may be changed by nobody: it must be a value.
    """

    @wraps(function)
    def once(*args: P.args, **kwargs: P.kwargs) -> R:
        asked = (digests.of_module(function.__module__), function.__qualname__, args, kwargs)
        path = FOLDER / hashlib.sha256(pickle.dumps(asked)).hexdigest()[:24]
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
