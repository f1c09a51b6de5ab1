"""Tests: the stand-in player."""
