"""Notes as they come, each given once: those that are over, and those that still sound."""

from collections.abc import Iterator, Sequence

from orexis.core.listening.notes.contour import frames_of
from orexis.core.listening.notes.events import Note, Passage

_SETTLED_FRAMES = frames_of(0.4)
"""What ended so long ago does not change any more."""
_SLIP_FRAMES = frames_of(0.06)
"""By so much the beginning of a note may move while more of it is heard."""


class NoteStream:
    """Tells which notes of passages and of glimpses at a sounding one have not been given yet."""

    def __init__(self, first_frame: int = 0) -> None:
        self._given_to = first_frame

    def over(self, passage: Passage) -> Iterator[Note]:
        """The notes of a passage that has ended, but those given before."""
        yield from self._give(passage.notes)

    def settled(self, glimpsed: Passage, now: int) -> Iterator[Note]:
        """The notes of a sounding passage that are over by a frame, but those given before."""
        # All but the note that sounds are over, though the last of them may yet join it.
        sounded = glimpsed.notes[:-1]
        yield from self._give([note for note in sounded if note.last <= now - _SETTLED_FRAMES])

    def sounding(self, glimpsed: Passage) -> list[Note]:
        """The notes of a sounding passage that may still change: none of them counts as given."""
        return [note for note in glimpsed.notes if note.first >= self._given_to - _SLIP_FRAMES]

    def _give(self, notes: Sequence[Note]) -> Iterator[Note]:
        for note in notes:
            if note.first >= self._given_to - _SLIP_FRAMES:
                self._given_to = note.last
                yield note
