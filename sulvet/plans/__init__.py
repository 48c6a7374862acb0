"""Two weeks after a focus: drills, the strip, rechecks."""
