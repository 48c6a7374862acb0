"""The measured drawing: every line of it, for screen and paper.

For others:

sheet      ``Drawing``, ``Stroke``, ``Dimension``: what a drawing is
take       ``drawing_of``, ``measure_frame``: of a take
figure     ``figure``: as paths, for paper
stills     what is kept of a phase
outline    some mouths over one another, their own lines alone
zones      a standard's zones, to be dragged
equipment  reeds from close by
"""

__all__ = ["equipment", "figure", "outline", "sheet", "stills", "take", "zones"]
