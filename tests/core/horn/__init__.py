"""What the horn does."""
