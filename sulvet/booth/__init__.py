"""The booth: students film themselves, under prompts, on a screen that can do nothing else."""
