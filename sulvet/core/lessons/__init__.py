"""Lessons: the first-lesson ladder, set-up cards, and routines for a class."""
