"""How the landmark networks are made; see ``docs/finder.md``. Never needed to run Sulvet."""
