"""What to play: exercises made for a player and an instrument."""
