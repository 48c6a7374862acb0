"""What stored takes say of a standard: what a change would do, how often a teacher agrees."""
