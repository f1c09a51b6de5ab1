"""Use cases that join core, store and formats: one way each, whoever asks."""
