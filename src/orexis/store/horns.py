"""Players' horns: how each is set up, and what their takes say of each note."""

from collections import defaultdict
from dataclasses import replace
from statistics import median

from sqlalchemy import select
from sqlalchemy.orm import Session

from orexis.core.horn.setup import Horn, Setup, Tendency
from orexis.core.horn.tuning import Scale, Temperament, Tuning
from orexis.core.horn.ways import standard_way
from orexis.core.score.steps import PlayedOn
from orexis.store.models import HornSetup, Player, Take, TakeNote
from orexis.store.players import instrument_of

_NEWEST_NOTES = 2000
_TAKES_A_NOTE = 20
_FURTHEST_CENTS = 60.0
_LONG_ENOUGH_S = 0.5


def horn_of(session: Session, player: Player) -> Horn:
    """The player's horn as it is set up, with the tendencies measured from their takes."""
    setup = setup_of(session, player)
    measured = tendencies(session, player)
    return Horn(instrument_of(player), replace(setup, tendencies=measured))


def is_set_up(session: Session, player: Player) -> bool:
    """Whether the player's horn differs from one as made."""
    return setup_of(session, player) != Setup(a4_hz=player.a4_hz)


def setup_of(session: Session, player: Player) -> Setup:
    """What is kept of the player's horn, at their A4; as made when nothing is."""
    kept = session.get(HornSetup, (player.id, player.instrument_key))
    if kept is None:
        return Setup(a4_hz=player.a4_hz)
    scale = Scale(kept.scale["description"], tuple(kept.scale["cents"])) if kept.scale else None
    return Setup(
        a4_hz=player.a4_hz,
        temperature_c=kept.temperature_c,
        tuning=Tuning(Temperament(kept.temperament), kept.tonic, scale),
        f1_hz=kept.f1_hz,
        main_pull_mm=kept.main_pull_mm,
        valve_cents=tuple(kept.valve_cents),
        valve_pull_mm=tuple(kept.valve_pull_mm),
        trigger_cents=tuple(kept.trigger_cents),
        slide_reach=kept.slide_reach,
    )


def keep_setup(session: Session, player: Player, setup: Setup) -> None:
    """Keeps how the player's horn is set up; its A4 is the player's, and its tendencies are
    their takes'. Raises `SetupRefusedError`; nothing changes then."""
    Horn(instrument_of(player), replace(setup, a4_hz=player.a4_hz))
    scale = setup.tuning.scale
    session.merge(
        HornSetup(
            player_id=player.id,
            instrument_key=player.instrument_key,
            f1_hz=setup.f1_hz,
            main_pull_mm=setup.main_pull_mm,
            valve_cents=list(setup.valve_cents),
            valve_pull_mm=list(setup.valve_pull_mm),
            trigger_cents=list(setup.trigger_cents),
            slide_reach=setup.slide_reach,
            temperature_c=setup.temperature_c,
            temperament=setup.tuning.temperament,
            tonic=setup.tuning.tonic,
            scale=None if scale is None else _scale_columns(scale),
        )
    )
    session.flush()


def tendencies(session: Session, player: Player) -> dict[tuple[str, int], Tendency]:
    """What the player's newest takes on this instrument say of each note on each length.

    Takes played into the microphone count alone where there are any: the stand-in player's are
    not this player's lips. Notes missed by more than a slot are left out.
    """
    rows = session.execute(
        select(
            Take.source,
            TakeNote.length_name,
            TakeNote.asked_midi,
            TakeNote.centre_cents,
            TakeNote.target_cents,
        )
        .join(Take, Take.id == TakeNote.take_id)
        .where(
            Take.player_id == player.id,
            Take.instrument_key == player.instrument_key,
            TakeNote.played_midi == TakeNote.asked_midi,
            TakeNote.on == PlayedOn.HORN,
            TakeNote.end_s - TakeNote.start_s >= _LONG_ENOUGH_S,
            Take.deleted_at.is_(None),
        )
        .order_by(Take.started_at.desc())
        .limit(_NEWEST_NOTES)
    ).all()
    own = [row for row in rows if row.source == "microphone"] or rows
    plain = Horn(instrument_of(player))
    found: dict[tuple[str, int], list[float]] = defaultdict(list)
    for _, length_name, midi, centre_cents, target_cents in own:
        if length_name is None:
            way = standard_way(plain, midi)
            length_name = way.length.name if way else None
        cents = (centre_cents or 0.0) + target_cents
        if length_name is not None and abs(cents) <= _FURTHEST_CENTS:
            found[length_name, midi].append(cents)
    return {
        place: Tendency(median(cents[:_TAKES_A_NOTE]), len(cents[:_TAKES_A_NOTE]))
        for place, cents in found.items()
    }


def _scale_columns(scale: Scale) -> dict[str, str | list[float]]:
    return {"description": scale.description, "cents": list(scale.degrees_cents)}
