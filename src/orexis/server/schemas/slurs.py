"""What the API and `orexis horn` say of going from note to note: slurs, glides, trills."""

from collections.abc import Iterable

from pydantic import Field

from orexis.core.horn import words
from orexis.core.horn.glides import GlidePlan, GlideWay
from orexis.core.horn.notation import Notation
from orexis.core.horn.setup import Horn
from orexis.core.horn.slurs import LipTrill, SamePitch, Slur
from orexis.core.horn.ways import Way
from orexis.server.schemas.horn import SlotOut, WayOut
from orexis.server.schemas.shape import Shape


class SameLengthOut(Shape):
    """A slur on one length: its slots, and the notes of those in between, lowest first."""

    length: str
    partials: list[int]
    between: list[SlotOut]


class LengthChangeOut(Shape):
    """A change of length: the ways at both ends."""

    start: WayOut
    end: WayOut


class SlurOut(Shape):
    """How two notes go together."""

    words: str
    same_length: list[SameLengthOut]
    nearest: list[LengthChangeOut]

    @classmethod
    def of(cls, horn: Horn, slur: Slur, notation: Notation) -> "SlurOut":
        """The slur for a player who names notes in `notation`."""
        a4_hz = horn.setup.a4_hz
        return cls(
            words=words.slur_words(slur, notation),
            same_length=[
                SameLengthOut(
                    length=one.length.name,
                    partials=[one.start.partial, one.end.partial],
                    between=[SlotOut.of(slot, notation, a4_hz) for slot in one.between],
                )
                for one in slur.same_length
            ],
            nearest=[
                LengthChangeOut(
                    start=WayOut.of(length_change.start), end=WayOut.of(length_change.end)
                )
                for length_change in slur.nearest
            ],
        )


class PlaceOut(Shape):
    """A length, and where its slide really stands when the note is in tune."""

    length: str
    extension_mm: float


class GlideOut(Shape):
    """One glide on one partial."""

    partial: int
    start: PlaceOut = Field(serialization_alias="from")
    end: PlaceOut = Field(serialization_alias="to")

    @classmethod
    def of(cls, glide: GlideWay) -> "GlideOut":
        """The glide as it is given out."""
        return cls(partial=glide.partial, start=_place(glide.start), end=_place(glide.end))


class NearestGlideOut(Shape):
    """The nearest that goes: half steps from the note itself, and a note for all of them."""

    semitones: int
    start: str | None


class GlidePlanOut(Shape):
    """One glide or several in turn; `reason` says why not, or what replaces it on valves."""

    route: list[GlideOut]
    possible: bool
    reason: str
    words: str
    nearest: NearestGlideOut | None = None

    @classmethod
    def of(cls, horn: Horn, plan: GlidePlan, notation: Notation) -> "GlidePlanOut":
        """The plan for a player who names notes in `notation`."""
        said = words.glide_words(horn, plan, notation)
        stop = plan.stop
        nearest = None
        if stop is not None:
            start = None if stop.nearest_midi is None else notation.name(stop.nearest_midi)
            nearest = NearestGlideOut(semitones=stop.farthest, start=start)
        return cls(
            route=[GlideOut.of(glide) for glide in plan.route],
            possible=plan.possible,
            reason="" if plan.possible else said,
            words=said,
            nearest=nearest,
        )


class BetweenOut(Shape):
    """How one goes from one note to another: slurred, in one glide, and (on a slide) climbing
    by glides of a half step."""

    slur: SlurOut
    glide: GlidePlanOut | None
    climb: GlidePlanOut | None


class NoteUsesOut(Shape):
    """What else a note is good for: lip trills upward, and the same pitch on two lengths."""

    trills: list[str]
    same_pitch: list[str]

    @classmethod
    def of(
        cls, trills: Iterable[LipTrill], pairs: Iterable[SamePitch], notation: Notation
    ) -> "NoteUsesOut":
        """The trills and pairs of a sounding note."""
        return cls(
            trills=[words.trill_words(trill, notation) for trill in trills],
            same_pitch=[words.same_pitch_words(pair) for pair in pairs],
        )


class ThroughOut(Shape):
    """A pattern of slots on one length."""

    length: str
    fingers: str
    slots: list[SlotOut]


def _place(way: Way) -> PlaceOut:
    return PlaceOut(length=way.length.name, extension_mm=round(way.slide_mm, 1))
