"""What changed over weeks and months, from what was played; nothing of it is stored."""
