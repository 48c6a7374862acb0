"""Timings, each as a ratio to a baseline of the same run."""
