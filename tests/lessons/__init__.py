"""Tests of ``sulvet.lessons``."""
