"""Stabilised takes at hand for re-following: the last few stay open."""

from __future__ import annotations

import threading
from collections import OrderedDict

from sulvet.core.video import store
from sulvet.core.video.stabilised_clip import StabilisedClip
from sulvet.takes import storage
from sulvet.takes.models import Take

KEPT = 3
_open: OrderedDict[str, StabilisedClip] = OrderedDict()
_lock = threading.Lock()


def of(take: Take) -> StabilisedClip:
    """The stabilised take; read from its folder at the first call."""
    name = str(take.folder)
    with _lock:
        if name not in _open:
            for file in (store.PICTURES, store.MATRICES):
                storage.fetched(take.folder, file)
            _open[name] = store.load(take.directory)
            while len(_open) > KEPT:
                _open.popitem(last=False)
        _open.move_to_end(name)
        return _open[name]


def forget(take: Take) -> None:
    """The take was read again or deleted."""
    with _lock:
        _open.pop(str(take.folder), None)
