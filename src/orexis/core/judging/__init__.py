"""What an attempt was worth: the standard, marks, ear against meter, and all of it in words."""
