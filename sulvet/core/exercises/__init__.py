"""Exercises of several tones: what they ask for, and how they were played.

schema   the rows of ``exercises.toml``
align    which tone is which of an exercise
row      each element of an exercise right, or what is wrong with it
"""
