"""How the server looks for memory that can be given back."""

from __future__ import annotations

import gc

#: New objects until the youngest are looked through; the interpreter's own is 700, far less than
#: one page of a large band makes.
YOUNGEST = 50_000


def settle() -> None:
    """What is loaded now stays: it is not looked through again and again for what may be thrown
    away, which cost single requests up to a tenth of a second (measured)."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(YOUNGEST, 20, 20)
