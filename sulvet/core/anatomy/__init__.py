"""Landmarks, marks over time, the face's own frame, and what turns pixels into millimetres.

For others:

landmarks  what can be marked, on whom
marks      ``Marks``: where each is on every frame, and how sure
frame      the front view's frame
profile    the side view's frame
scale      ``Scales``: millimetres by plane
"""

__all__ = ["frame", "landmarks", "marks", "profile", "scale"]
