"""How well a microphone hears a player: the room, the notes, and what stands in the way."""
