"""Practising a teacher's eye: rounds, a gallery, and how well one sees."""
