"""What a take sounds like: pitch, steadiness, starts and breath, from its own sound."""
