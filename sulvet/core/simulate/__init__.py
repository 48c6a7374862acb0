"""The made-up head: takes with exact truth.

For others:

script     what happens in a take
clip       ``write``: its pictures and sound
truth      landmarks and measures as they truly are
sound      its tones
person     fourteen invented people
equipment  what they hold
"""

__all__ = ["clip", "equipment", "person", "script", "sound", "truth"]
