"""Lessons: where each beginner stands, and the drills that are given."""
