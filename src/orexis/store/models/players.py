"""Players, their horns, what they say of themselves, and their own exercises."""

from datetime import datetime, time
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column

from orexis.store.models.base import Base, UtcDateTime


class Player(Base, kw_only=True):
    """Who plays, on what, and how they read."""

    __tablename__ = "players"

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    name: Mapped[str]
    instrument_key: Mapped[str]
    view: Mapped[str]
    clef: Mapped[str]
    a4_hz: Mapped[float]
    standard: Mapped[str]
    created_at: Mapped[datetime] = mapped_column(UtcDateTime)
    note_names: Mapped[str] = mapped_column(server_default="english", default="english")
    octaves: Mapped[str] = mapped_column(server_default="numbers", default="numbers")
    deleted_at: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)


class HornSetup(Base, kw_only=True):
    """How a player's horn of one kind is built, pulled and tuned; none is kept while it is as
    made. Cents and pulls are in the order of valves, or of triggers and then both together."""

    __tablename__ = "horn_setups"

    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"), primary_key=True)
    instrument_key: Mapped[str] = mapped_column(primary_key=True)
    f1_hz: Mapped[float | None]
    main_pull_mm: Mapped[float]
    valve_cents: Mapped[list[float]] = mapped_column(JSON)
    valve_pull_mm: Mapped[list[float]] = mapped_column(JSON)
    trigger_cents: Mapped[list[float]] = mapped_column(JSON)
    slide_reach: Mapped[float]
    temperature_c: Mapped[float]
    temperament: Mapped[str]
    tonic: Mapped[int]
    scale: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))


class PlayerAbout(Base, kw_only=True):
    """What a player has said of themselves to the coach (`core.coach.about`), on which horn they
    said how far they reach, and the approaches they have chosen: options by question. None is kept
    before they have said anything."""

    __tablename__ = "player_abouts"

    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"), primary_key=True)
    experience: Mapped[str]
    wish: Mapped[str]
    minutes: Mapped[int]
    days_a_week: Mapped[int]
    low_midi: Mapped[int | None]
    high_midi: Mapped[int | None]
    braces: Mapped[bool]
    weeks_off: Mapped[int]
    quiet_from: Mapped[time | None]
    quiet_until: Mapped[time | None]
    range_on: Mapped[str] = mapped_column(server_default="", default="")
    approaches: Mapped[dict[str, str]] = mapped_column(JSON, default_factory=dict)


class OwnExercise(Base, kw_only=True):
    """An exercise a player has kept under a name: a family, its version and what is set of it."""

    __tablename__ = "own_exercises"
    __table_args__ = (Index("own_exercises_by_player", "player_id"),)

    id: Mapped[str] = mapped_column(primary_key=True)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    name: Mapped[str]
    family_key: Mapped[str]
    version: Mapped[int]
    parameters: Mapped[dict[str, Any]] = mapped_column(JSON)
    changed_at: Mapped[datetime] = mapped_column(UtcDateTime)
    deleted_at: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)
