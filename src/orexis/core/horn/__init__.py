"""What an instrument does: pitch, tube, lengths, ways, slurs, glides, notation and tuning."""
