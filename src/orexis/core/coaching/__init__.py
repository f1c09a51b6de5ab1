"""What to do next: gates, verdicts and the running of a repetition."""
