"""The tables of words for other languages: brought up to date and compiled."""
