"""Practising a teacher's eye: made-up mouths with known faults, rounds of them, and scores."""
