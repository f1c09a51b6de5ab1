"""What the API says of two sounds beside each other."""

from pydantic import BaseModel

from orexis.core.horn.words import tuned_words
from orexis.practice.comparing import ComparedSounds


class ComparedNoteOut(BaseModel):
    """A note that is in both: where it begins in each, how far off it is, and how long."""

    name: str
    at_s: float
    off: str
    seconds: float
    other_at_s: float
    other_off: str
    other_seconds: float


class ComparisonOut(BaseModel):
    """One sound compared with another: the differences in sentences, the notes that are in both,
    and for some moments of the one (s) the matching moment of the other (s)."""

    words: list[str]
    notes: list[ComparedNoteOut]
    at_s: list[float]
    other_s: list[float]

    @classmethod
    def of(cls, found: ComparedSounds) -> "ComparisonOut":
        """Both as the API gives them."""
        pairs = [
            (found.notes[pair.one], found.others[pair.other]) for pair in found.comparison.pairs
        ]
        return cls(
            words=list(found.words),
            notes=[
                ComparedNoteOut(
                    name=found.notation.name(note.midi),
                    at_s=round(note.start_s, 2),
                    off=tuned_words(note.measures.centre_cents),
                    seconds=round(note.end_s - note.start_s, 2),
                    other_at_s=round(other.start_s, 2),
                    other_off=tuned_words(other.measures.centre_cents),
                    other_seconds=round(other.end_s - other.start_s, 2),
                )
                for note, other in pairs
            ],
            at_s=[round(one, 3) for one in found.comparison.at_s.tolist()],
            other_s=[round(one, 3) for one in found.comparison.other_s.tolist()],
        )
