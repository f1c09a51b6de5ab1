"""What sounds in order: steps, metre, beats and seconds."""
