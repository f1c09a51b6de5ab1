"""Takes: attempts that were kept, with their notes, sound and events."""

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ColumnElement, ForeignKey, Index, UniqueConstraint, func
from sqlalchemy.ext.hybrid import hybrid_property
from sqlalchemy.orm import Mapped, mapped_column, relationship

from orexis.store.models.base import Base, UtcDateTime, summed
from orexis.store.models.players import Player


class TaskSnapshot(Base, kw_only=True):
    """A task as it was when it was played (`formats.task`), kept once for all takes of it; the key
    is made of what it says."""

    __tablename__ = "tasks"

    key: Mapped[str] = mapped_column(primary_key=True)
    document: Mapped[dict[str, Any]] = mapped_column(JSON)


class Take(Base, kw_only=True):
    """One attempt at an exercise as it was played and judged.

    `session_id` and `first_frame` say which stretch of which session it is, so that a session
    taken up again after a crash cannot store it twice. `task` and `verdict` are as they were then
    (`formats.task`), so that it is shown and judged as it was. `judged_passed` is Orexis's verdict
    and `passed` what counts: the player's own where they overruled it. `place` says where in its
    session it was played, `set_number` which of its sets it is of (counted from 0 over all
    exercises), and `timing` how its onsets lay against the metronome; of its duration it
    sounded for `sounded_s`, the time of playing. `has_sounds`, `has_frames` and `has_events` say
    which of the tables beside it are to have a row for it. `rating` is what the player's ear said
    before the measurement was shown (`core.judging.ear`).
    """

    __tablename__ = "takes"
    __table_args__ = (
        UniqueConstraint("session_id", "first_frame"),
        Index(
            "takes_by_player_and_time", "player_id", "started_at", "deleted_at", "overruled_passed"
        ),
        Index("takes_by_player_and_exercise", "player_id", "exercise_key"),
    )

    id: Mapped[str] = mapped_column(primary_key=True)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    session_id: Mapped[str]
    first_frame: Mapped[int]
    started_at: Mapped[datetime] = mapped_column(UtcDateTime)
    source: Mapped[str]
    instrument_key: Mapped[str]
    exercise_key: Mapped[str]
    a4_hz: Mapped[float]
    standard: Mapped[str]
    sample_rate: Mapped[int]
    duration_s: Mapped[float]
    sounded_s: Mapped[float] = mapped_column(server_default="0")
    judged_passed: Mapped[bool] = mapped_column("passed")
    task_key: Mapped[str] = mapped_column(server_default="")
    verdict: Mapped[dict[str, Any]] = mapped_column(JSON, server_default="{}")
    place: Mapped[str] = mapped_column(server_default="", default="")
    set_number: Mapped[int] = mapped_column(server_default="0", default=0)
    timing: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True), default=None)
    rating: Mapped[int | None] = mapped_column(default=None)
    overruled_passed: Mapped[bool | None] = mapped_column(default=None)
    has_sounds: Mapped[bool] = mapped_column(server_default="0", default=False)
    has_frames: Mapped[bool] = mapped_column(server_default="0", default=False)
    has_events: Mapped[bool] = mapped_column(server_default="0", default=False)
    deleted_at: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)

    player: Mapped[Player] = relationship(init=False)
    snapshot: Mapped["TaskSnapshot"] = relationship(
        primaryjoin="foreign(Take.task_key) == TaskSnapshot.key", init=False, lazy="joined"
    )
    notes: Mapped[list["TakeNote"]] = relationship(
        order_by="TakeNote.number", passive_deletes=True, lazy="selectin"
    )

    @property
    def task(self) -> dict[str, Any]:
        """The task it was played to."""
        return self.snapshot.document

    @hybrid_property
    def passed(self) -> bool:
        """Whether it passed: what the player says, else Orexis."""
        return self.judged_passed if self.overruled_passed is None else self.overruled_passed

    @passed.inplace.expression
    @classmethod
    def _passed_in_sql(cls) -> ColumnElement[bool]:
        return func.coalesce(cls.overruled_passed, cls.judged_passed)


class TakeNote(Base, kw_only=True):
    """A note that was asked for in a take, in order, and the heard note that answers it: the one
    that was meant where it `spoke`, else what was played in its place, if anything.

    `step` and `time` say where in the score. The target lies `target_cents` from the note in equal
    temperament, and the centre is against it. `length_name` and `partial` are the slot that was
    asked for (`None`: the standard one of its time). `measures` are the rest of `NoteMeasures`.
    """

    __tablename__ = "take_notes"
    __table_args__ = (Index("take_notes_by_asked", "asked_midi"),)

    take_id: Mapped[str] = mapped_column(
        ForeignKey("takes.id", ondelete="CASCADE"), primary_key=True, init=False
    )
    number: Mapped[int] = mapped_column(primary_key=True)
    step: Mapped[int]
    time: Mapped[int]
    on: Mapped[str]
    asked_midi: Mapped[int]
    asked_s: Mapped[float | None] = mapped_column(default=None)
    target_cents: Mapped[float]
    length_name: Mapped[str | None]
    partial: Mapped[int | None]
    spoke: Mapped[bool]
    played_midi: Mapped[int | None] = mapped_column(default=None)
    start_s: Mapped[float | None] = mapped_column(default=None)
    end_s: Mapped[float | None] = mapped_column(default=None)
    centre_cents: Mapped[float | None] = mapped_column(default=None)
    spread_cents: Mapped[float | None] = mapped_column(default=None)
    level_db: Mapped[float | None] = mapped_column(default=None)
    hold_s: Mapped[float | None] = mapped_column(default=None)
    rise_s: Mapped[float | None] = mapped_column(default=None)
    harmonicity_db: Mapped[float | None] = mapped_column(default=None)
    brightness: Mapped[float | None] = mapped_column(default=None)
    cracked_from_midi: Mapped[int | None] = mapped_column(default=None)
    measures: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True), default=None)

    @property
    def length_s(self) -> float:
        """How long it sounded; 0 where nothing did."""
        return (self.end_s or 0.0) - (self.start_s or 0.0)


class TakeSound(Base, kw_only=True):
    """A take's sound as a FLAC file, in a table of its own so that lists stay light."""

    __tablename__ = "take_sounds"

    take_id: Mapped[str] = mapped_column(
        ForeignKey("takes.id", ondelete="CASCADE"), primary_key=True
    )
    flac: Mapped[bytes]
    flac_sum: Mapped[int] = summed("flac")


class TakeFrames(Base, kw_only=True):
    """A take's frames: zlib-packed JSON of the analysis document's `frames`."""

    __tablename__ = "take_frames"

    take_id: Mapped[str] = mapped_column(
        ForeignKey("takes.id", ondelete="CASCADE"), primary_key=True
    )
    packed: Mapped[bytes]
    packed_sum: Mapped[int] = summed("packed")


class TakeEvents(Base, kw_only=True):
    """All that was heard in a take: zlib-packed JSON of the analysis document's notes,
    transitions, glides and trills. Takes from before it was kept have none."""

    __tablename__ = "take_events"

    take_id: Mapped[str] = mapped_column(
        ForeignKey("takes.id", ondelete="CASCADE"), primary_key=True
    )
    packed: Mapped[bytes]
    packed_sum: Mapped[int] = summed("packed")
