"""How accurate Sulvet is: takes of known truth, read as a teacher would have them read."""
