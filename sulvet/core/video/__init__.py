"""From a clip to pictures and landmarks that can be measured.

For others:

clip              ``Reader``: frames and sound of a clip
photo             single pictures
finder            ``Finder``: faces in a picture
stabilise         ``stabilise``: the head held still
stabilised_clip   ``StabilisedClip``: what that gives, and the way back
track             ``track_landmarks``: marks on every frame
phase_suggestion  rest, hold and what lies between
opening           the gap between the lips
outline           the cheeks
profile           the chin from the side
texture           the chin's skin
store             stabilised clips on disk
proxy             the review copy
aligned           two takes in one frame
"""

__all__ = [
    "aligned",
    "clip",
    "finder",
    "opening",
    "outline",
    "phase_suggestion",
    "photo",
    "profile",
    "proxy",
    "stabilise",
    "stabilised_clip",
    "store",
    "texture",
    "track",
]
