"""Tests of the band: class lists, consent of many, names and seating."""
