"""Close-ups of reeds: a photo, its marks, and what they tell before the mouth is blamed."""
