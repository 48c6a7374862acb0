"""Sulvet: measures a beginner's mouth on film and names one thing to fix."""

__version__ = "0.1.0"
