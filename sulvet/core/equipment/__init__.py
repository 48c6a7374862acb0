"""Reed and mouthpiece by themselves, measured in one picture from close by.

For others:

kinds    what is marked on which
measure  ``measure``: readings in millimetres and degrees
results  ``Measured``
"""

__all__ = ["kinds", "measure", "results"]
