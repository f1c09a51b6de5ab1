"""A player's horn: its map and chart, slurs and glides, what else a note is good for, setup."""

from dataclasses import dataclass, replace
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Response
from pydantic import Field
from sqlalchemy.orm import Session

from orexis.core.horn.glides import plan_climb, plan_glides
from orexis.core.horn.notation import Notation, NoteUnreadableError, NoteView, parse_key
from orexis.core.horn.setup import Horn, SetupRefusedError
from orexis.core.horn.slurs import lip_trills, same_pitch_pairs, slur, through_the_lengths
from orexis.core.horn.tube import HIGHEST_PARTIAL
from orexis.core.horn.ways import chart
from orexis.core.horn.words import finger_words
from orexis.formats.scala import ScaleUnreadableError, write_scl
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.server.schemas.horn import HornOut, SlotOut
from orexis.server.schemas.setup import HornSetupIn, HornSetupOut
from orexis.server.schemas.slurs import BetweenOut, GlidePlanOut, NoteUsesOut, SlurOut, ThroughOut
from orexis.store.horns import horn_of, is_set_up, keep_setup, setup_of
from orexis.store.models import Player
from orexis.store.players import notation_of

router = APIRouter(prefix="/api/players/{player_id}/horn")

Midi = Annotated[int, Query(ge=0, le=127)]
Partial = Annotated[int, Field(ge=1, le=HIGHEST_PARTIAL)]


def _naming(
    key: Annotated[str | None, Query(max_length=12, description="A major key, as B♭.")] = None,
    view: Annotated[NoteView | None, Query(description="Instead of the player's own.")] = None,
) -> "AskedNames":
    """How notes are named in an answer, where it is not as the player has it."""
    return AskedNames(key, view)


@dataclass(frozen=True, slots=True)
class AskedNames:
    """The key notes are spelled in and whether they are written or sounding."""

    key: str | None
    view: NoteView | None

    def of(self, player: Player) -> Notation:
        """The player's notation with it. Raises a problem for a key that is none."""
        own = notation_of(player)
        try:
            fifths = parse_key(self.key) if self.key else None
        except NoteUnreadableError as error:
            raise ProblemError(422, "There is no such key", str(error)) from error
        return replace(own, view=self.view or own.view, key_fifths=fifths)


Named = Annotated[AskedNames, Depends(_naming)]


@router.get("")
def horn(data: Data, player_id: PlayerId, named: Named) -> HornOut:
    """The player's horn: every length with its slots, and the fingering chart."""
    with data.session() as session:
        own, notation = _horn_and_notation(session, player_id, named)
        set_up = is_set_up(session, player_or_404(session, player_id))
        return HornOut.of(own, chart(own), notation, set_up)


@router.get("/between")
def between(
    data: Data, player_id: PlayerId, from_midi: Midi, to_midi: Midi, named: Named
) -> BetweenOut:
    """How the player goes from one sounding note to another: slurred, and gliding."""
    with data.session() as session:
        own, notation = _horn_and_notation(session, player_id, named)
    distance = to_midi - from_midi
    glide = plan_glides(own, from_midi, (distance,)) if distance else None
    climb = plan_climb(own, from_midi, to_midi)
    return BetweenOut(
        slur=SlurOut.of(own, slur(own, from_midi, to_midi), notation),
        glide=glide and GlidePlanOut.of(own, glide, notation),
        climb=climb and GlidePlanOut.of(own, climb, notation),
    )


@router.get("/also")
def also(data: Data, player_id: PlayerId, midi: Midi, named: Named) -> NoteUsesOut:
    """Lip trills from a sounding note, and pairs of lengths that both give it."""
    with data.session() as session:
        own, notation = _horn_and_notation(session, player_id, named)
    return NoteUsesOut.of(lip_trills(own, midi), same_pitch_pairs(own, midi), notation)


@router.get("/through")
def through(
    data: Data,
    player_id: PlayerId,
    partials: Annotated[
        list[Annotated[int, Field(ge=1, le=HIGHEST_PARTIAL)]], Query(max_length=32)
    ],
    named: Named,
) -> list[ThroughOut]:
    """A pattern of slots on each length in turn."""
    with data.session() as session:
        own, notation = _horn_and_notation(session, player_id, named)
    try:
        turns = through_the_lengths(own, partials)
    except ValueError as error:
        raise ProblemError(422, "This pattern cannot be played", str(error)) from error
    return [
        ThroughOut(
            length=length.name,
            fingers=finger_words(length),
            slots=[SlotOut.of(slot, notation, own.setup.a4_hz) for slot in slots],
        )
        for length, slots in turns
    ]


@router.get("/setup")
def setup(data: Data, player_id: PlayerId) -> HornSetupOut:
    """How the player's horn is set up."""
    with data.session() as session:
        return _setup_out(session, player_id)


@router.put("/setup")
def change_setup(data: Data, player_id: PlayerId, wanted: HornSetupIn) -> HornSetupOut:
    """Keeps how the player's horn is set up."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        try:
            keep_setup(session, player, wanted.setup())
        except ScaleUnreadableError as error:
            raise ProblemError(422, "The scale cannot be read", str(error)) from error
        except SetupRefusedError as error:
            raise ProblemError(422, "The horn could not be kept", str(error)) from error
        return _setup_out(session, player_id)


@router.get("/scale.scl", response_class=Response)
def scale(data: Data, player_id: PlayerId) -> Response:
    """The player's scale as a Scala file."""
    with data.session() as session:
        kept = setup_of(session, player_or_404(session, player_id)).tuning.scale
    if kept is None:
        raise not_found("scale")
    return Response(
        write_scl(kept),
        media_type="text/plain; charset=utf-8",
        headers={"Content-Disposition": 'attachment; filename="orexis.scl"'},
    )


def _horn_and_notation(
    session: Session, player_id: PlayerId, named: AskedNames
) -> tuple[Horn, Notation]:
    player = player_or_404(session, player_id)
    return horn_of(session, player), named.of(player)


def _setup_out(session: Session, player_id: int) -> HornSetupOut:
    player = player_or_404(session, player_id)
    return HornSetupOut.of(horn_of(session, player), notation_of(player))
