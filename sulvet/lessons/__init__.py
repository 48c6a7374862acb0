"""Lessons: where each beginner stands, drills that are given, routines for a class."""
