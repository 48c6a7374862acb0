"""Frames of the review copy as JPEG, decoded by groups and kept a moment."""

from __future__ import annotations

import threading
from collections import OrderedDict

from sulvet.core.video.proxy import GOP, group
from sulvet.takes.models import Take

KEPT = 16
_groups: OrderedDict[tuple[str, int], dict[int, bytes]] = OrderedDict()
_locks: dict[tuple[str, int], threading.Lock] = {}
_guard = threading.Lock()


def still(take: Take, number: int) -> bytes:
    """One frame as JPEG. Raises ClipError when the review copy is damaged.

    Frames come in groups that hang on one keyframe; whoever asks first decodes
    the group, who asks for a neighbour meanwhile waits for it.
    """
    name = (str(take.folder), number // GOP)
    with _guard:
        lock = _locks.setdefault(name, threading.Lock())
    with lock:
        with _guard:
            frames = _groups.get(name)
        if frames is None:
            frames = group(take.proxy, number, take.frame_times)
        with _guard:
            _groups[name] = frames
            _groups.move_to_end(name)
            while len(_groups) > KEPT:
                old, _ = _groups.popitem(last=False)
                _locks.pop(old, None)
    return frames[number]
