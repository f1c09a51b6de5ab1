"""The running of a practice session."""
