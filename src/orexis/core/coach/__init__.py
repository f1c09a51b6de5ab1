"""What to play: how notes stand with a player."""
