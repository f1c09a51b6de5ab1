"""Sound to frames: pitch, level and clarity every 10 ms."""
