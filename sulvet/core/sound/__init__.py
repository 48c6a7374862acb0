"""What a take sounds like: pitch, steadiness, starts and breath, from its own sound.

For others:

audio       reading a clip's sound
pitch       ``track_pitch``: pitch and level along time
tones       ``analyse``: tones, breaths and starts
letters     rehearsal letters from them
notes       names, Hz and cents
parameters  every figure of it
"""

__all__ = ["audio", "letters", "notes", "parameters", "pitch", "tones"]
