"""A teacher's own versions of the shipped standards."""
