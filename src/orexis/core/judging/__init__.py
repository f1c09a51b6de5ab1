"""What a try was worth: the gate, marks, ear against meter, and all of it in words."""
