"""By a standard: readings, findings, focus, plans, and how takes differ.

For others:

standards      ``shipped_standard``: the bands of an instrument and its schools
common         faults, rules and drills that all share
judge          ``judge``: a take by eye
sound          ``judge_sound``: a take by ear
corroboration  ``with_sound``: both together
results        ``Reading``, ``Finding``, ``Judgement``
focus          the one thing to work on
plan           the two weeks after it
change         then and now
rejudge        a stored take by another standard
agreement      teacher and Sulvet
triage         what to look for first by ear
closeups       reeds from close by
reeds          how long they last
"""

__all__ = [
    "agreement",
    "change",
    "closeups",
    "common",
    "corroboration",
    "focus",
    "judge",
    "plan",
    "reeds",
    "rejudge",
    "results",
    "sound",
    "standards",
    "triage",
]
