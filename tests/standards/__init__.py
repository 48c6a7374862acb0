"""Tests of ``sulvet.standards``."""
