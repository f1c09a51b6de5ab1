"""What an instrument does: pitch, tube, lengths, slots and notation."""
