"""The measured drawing: a mouth to scale, from its marks alone."""
