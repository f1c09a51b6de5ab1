"""Frames to notes, how they meet, and what is measured of them."""
