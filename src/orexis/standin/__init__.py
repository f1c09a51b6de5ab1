"""The simulated player: brass sound from a formula, with faults of known size."""
