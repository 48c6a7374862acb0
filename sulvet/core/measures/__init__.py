"""Everything that is measured on a take's marks.

For others:

catalogue  ``catalogue()``: every measure, bound to its function
series     ``measure``: all of a view along time
motion     ``motions``: what belongs to a phase as a whole
frames     ``TakeContext``: what measures are taken from
view       ``FaceView``: the face on some frames
units      how units are written
"""

__all__ = ["catalogue", "frames", "motion", "series", "units", "view"]
