"""The tables. Columns carry their unit in the name; times are UTC."""

from datetime import UTC, date, datetime, time
from typing import Any
from zlib import crc32

from sqlalchemy import (
    JSON,
    ColumnElement,
    DateTime,
    Dialect,
    ForeignKey,
    Index,
    TypeDecorator,
    UniqueConstraint,
    func,
)
from sqlalchemy.engine.interfaces import ExecutionContext
from sqlalchemy.ext.hybrid import hybrid_property
from sqlalchemy.orm import (
    DeclarativeBase,
    Mapped,
    MappedAsDataclass,
    MappedColumn,
    mapped_column,
    relationship,
)


class UtcDateTime(TypeDecorator[datetime]):
    """A time with its zone kept: stored as UTC, which SQLite does not remember by itself."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return value and value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return value and value.replace(tzinfo=UTC)


class Base(MappedAsDataclass, DeclarativeBase):
    """Base of all tables."""


def summed(column: str) -> MappedColumn[int]:
    """The checksum (CRC-32) of what another column of the row holds, told when it is written."""

    def of_the_row(context: ExecutionContext) -> int:
        written: dict[str, Any] = context.get_current_parameters()  # type: ignore[attr-defined]
        return crc32(written[column])

    return mapped_column(
        init=False, insert_default=of_the_row, onupdate=of_the_row, server_default="0"
    )


class Player(Base, kw_only=True):
    """Who plays, on what, and how they read."""

    __tablename__ = "players"

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    name: Mapped[str]
    instrument_key: Mapped[str]
    view: Mapped[str]
    clef: Mapped[str]
    a4_hz: Mapped[float]
    gate_level: Mapped[str]
    created_at: Mapped[datetime] = mapped_column(UtcDateTime)
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
    (`formats.task`), so that it is shown and judged as it was. `gate_passed` is the gate's verdict
    and `passed` what counts: the player's own where they overruled it. `place` says where in its
    session it was played, and `timing` how its onsets lay against the metronome; of its duration it
    sounded for `sounded_s`, the time of playing. `has_sounds`, `has_frames` and `has_events` say
    which of the tables beside it are to have a row for it. `rating` is what the player's ear said
    before the measurement was shown (`core.judging.ear`).
    """

    __tablename__ = "takes"
    __table_args__ = (
        UniqueConstraint("session_id", "first_frame"),
        Index("takes_by_player_and_time", "player_id", "started_at"),
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
    gate_level: Mapped[str]
    sample_rate: Mapped[int]
    duration_s: Mapped[float]
    sounded_s: Mapped[float] = mapped_column(server_default="0")
    gate_passed: Mapped[bool] = mapped_column("passed")
    task_key: Mapped[str] = mapped_column(server_default="")
    verdict: Mapped[dict[str, Any]] = mapped_column(JSON, server_default="{}")
    place: Mapped[str] = mapped_column(server_default="", default="")
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
        """Whether it passed: what the player says, else the gate."""
        return self.gate_passed if self.overruled_passed is None else self.overruled_passed

    @passed.inplace.expression
    @classmethod
    def _passed_in_sql(cls) -> ColumnElement[bool]:
        return func.coalesce(cls.overruled_passed, cls.gate_passed)


class PracticeSession(Base, kw_only=True):
    """A session: its plan (`formats.session`) and what it was set to, so that it is taken up, and
    judged, as it began. `kind` is a `SessionKind`. `setup` holds the horn's setup, A4 and the delay
    of the sound's round trip in seconds (`None`: not measured). `ended` says how it ended, `None`
    while it goes on, and `went` how each of its exercises did so far (`None` where it was not kept
    yet); `note` is what the player wrote to themselves."""

    __tablename__ = "sessions"
    __table_args__ = (Index("sessions_by_player_and_time", "player_id", "started_at"),)

    id: Mapped[str] = mapped_column(primary_key=True)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    started_at: Mapped[datetime] = mapped_column(UtcDateTime)
    title: Mapped[str]
    kind: Mapped[str] = mapped_column(server_default="plan")
    source: Mapped[str]
    sample_rate: Mapped[int]
    instrument_key: Mapped[str]
    gate_level: Mapped[str]
    plan: Mapped[dict[str, Any]] = mapped_column(JSON)
    setup: Mapped[dict[str, Any]] = mapped_column(JSON)
    latency_s: Mapped[float | None]
    drone_hz: Mapped[float | None]
    heard_until: Mapped[int] = mapped_column(default=0)
    ended: Mapped[str | None] = mapped_column(default=None)
    ended_at: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)
    went: Mapped[list[dict[str, Any]] | None] = mapped_column(JSON(none_as_null=True), default=None)
    note: Mapped[str] = mapped_column(default="")

    player: Mapped[Player] = relationship(init=False)


class SessionEntry(Base, kw_only=True):
    """One entry of a session's log: its number, the sample it happened at, its kind and what it
    says."""

    __tablename__ = "session_log"

    session_id: Mapped[str] = mapped_column(
        ForeignKey("sessions.id", ondelete="CASCADE"), primary_key=True
    )
    number: Mapped[int] = mapped_column(primary_key=True)
    sample: Mapped[int]
    kind: Mapped[str]
    content: Mapped[dict[str, Any]] = mapped_column(JSON)


class SessionMemo(Base, kw_only=True):
    """A short spoken note of the player to themselves, as a FLAC file."""

    __tablename__ = "session_memos"

    session_id: Mapped[str] = mapped_column(
        ForeignKey("sessions.id", ondelete="CASCADE"), primary_key=True
    )
    flac: Mapped[bytes]
    flac_sum: Mapped[int] = summed("flac")


class Hurt(Base, kw_only=True):
    """Something hurt: when, in which session, and when the player said that it does no more."""

    __tablename__ = "hurts"

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    at: Mapped[datetime] = mapped_column(UtcDateTime)
    session_id: Mapped[str | None] = mapped_column(default=None)
    cleared_at: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)


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


class Recording(Base, kw_only=True):
    """Sound that no exercise judged: from elsewhere, or from a session whose exercise no longer
    fits. `wanted` is what the player meant to play, as they typed it; `reason` says why sound
    that was played on the Stand was not judged."""

    __tablename__ = "recordings"
    __table_args__ = (Index("recordings_by_player_and_time", "player_id", "started_at"),)

    id: Mapped[str] = mapped_column(primary_key=True)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    started_at: Mapped[datetime] = mapped_column(UtcDateTime)
    name: Mapped[str]
    instrument_key: Mapped[str]
    a4_hz: Mapped[float]
    sample_rate: Mapped[int]
    duration_s: Mapped[float]
    clipped: Mapped[bool]
    note_count: Mapped[int]
    wanted: Mapped[str] = mapped_column(default="")
    reason: Mapped[str] = mapped_column(server_default="", default="")
    deleted_at: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)

    player: Mapped[Player] = relationship(init=False)


class RecordingContent(Base, kw_only=True):
    """A recording's sound as a FLAC file, and its analysis document as zlib-packed JSON."""

    __tablename__ = "recording_contents"

    recording_id: Mapped[str] = mapped_column(
        ForeignKey("recordings.id", ondelete="CASCADE"), primary_key=True
    )
    flac: Mapped[bytes]
    packed: Mapped[bytes]
    flac_sum: Mapped[int] = summed("flac")
    packed_sum: Mapped[int] = summed("packed")


class Pin(Base, kw_only=True):
    """A spot in a take or in a recording to come back to, and why; `said_by` is who put it there,
    "" for the player, and `gone_back_at` when the player has been back."""

    __tablename__ = "pins"

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    take_id: Mapped[str | None] = mapped_column(ForeignKey("takes.id", ondelete="CASCADE"))
    recording_id: Mapped[str | None] = mapped_column(
        ForeignKey("recordings.id", ondelete="CASCADE")
    )
    at_s: Mapped[float]
    words: Mapped[str]
    said_by: Mapped[str] = mapped_column(server_default="", default="")
    gone_back_at: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)

    @property
    def gone_back(self) -> bool:
        """Whether the player has been back."""
        return self.gone_back_at is not None


class WordsBack(Base, kw_only=True):
    """What a teacher said of a report, beside the spots they pinned; the key is made of what they
    said, so that the same words come back once."""

    __tablename__ = "words_back"

    key: Mapped[str] = mapped_column(primary_key=True)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"), primary_key=True)
    said_by: Mapped[str]
    words: Mapped[str]
    arrived_at: Mapped[datetime] = mapped_column(UtcDateTime)


class Guest(Base, kw_only=True):
    """Somebody's report, opened here to be read: zlib-packed JSON of it."""

    __tablename__ = "guests"

    id: Mapped[str] = mapped_column(primary_key=True)
    opened_at: Mapped[datetime] = mapped_column(UtcDateTime)
    packed: Mapped[bytes]
    packed_sum: Mapped[int] = summed("packed")


class GuestSound(Base, kw_only=True):
    """The sound of a take in a guest's report, as a FLAC file."""

    __tablename__ = "guest_sounds"

    guest_id: Mapped[str] = mapped_column(
        ForeignKey("guests.id", ondelete="CASCADE"), primary_key=True
    )
    take_id: Mapped[str] = mapped_column(primary_key=True)
    flac: Mapped[bytes]
    flac_sum: Mapped[int] = summed("flac")


class TypedPractice(Base, kw_only=True):
    """Practice that was written down elsewhere: so many minutes on a day, and of what."""

    __tablename__ = "typed_practice"
    __table_args__ = (Index("typed_practice_by_player", "player_id", "day"),)

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    day: Mapped[date]
    minutes: Mapped[float]
    words: Mapped[str]


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


class PlayerAbout(Base, kw_only=True):
    """What a player has said of themselves to the coach (`core.coach.about`), on which horn they
    said how far they reach, and the schools they have chosen: options by question. None is kept
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
    schools: Mapped[dict[str, str]] = mapped_column(JSON, default_factory=dict)


class SchoolTrial(Base, kw_only=True):
    """Two answers to a question of the schools that are measured against each other."""

    __tablename__ = "school_trials"
    __table_args__ = (Index("school_trials_by_player", "player_id"),)

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    question: Mapped[str]
    first: Mapped[str]
    second: Mapped[str]
    begins: Mapped[date]
    ends: Mapped[date]


class FollowedProgramme(Base, kw_only=True):
    """A programme a player follows: since when, from which note, and since when it is paused."""

    __tablename__ = "programmes"

    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"), primary_key=True)
    key: Mapped[str] = mapped_column(primary_key=True)
    since: Mapped[date]
    base_midi: Mapped[int]
    paused: Mapped[date | None] = mapped_column(default=None)


class PathMove(Base, kw_only=True):
    """The step (from 0) of an exercise's path that a player went to by hand, on one of their horns,
    and on which day."""

    __tablename__ = "path_moves"

    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"), primary_key=True)
    instrument_key: Mapped[str] = mapped_column(primary_key=True)
    family: Mapped[str] = mapped_column(primary_key=True)
    step: Mapped[int]
    day: Mapped[date]


class DayPlanRow(Base, kw_only=True):
    """The plan of a day, as it was made or changed by the player (`formats.day_plan`)."""

    __tablename__ = "day_plans"

    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"), primary_key=True)
    day: Mapped[date] = mapped_column(primary_key=True)
    plan: Mapped[dict[str, Any]] = mapped_column(JSON)
    changed: Mapped[bool] = mapped_column(default=False)


class ComingDate(Base, kw_only=True):
    """A date a player looks ahead to: a concert, a rehearsal."""

    __tablename__ = "coming_dates"
    __table_args__ = (Index("coming_dates_by_player", "player_id", "day"),)

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    day: Mapped[date]
    kind: Mapped[str]
    words: Mapped[str] = mapped_column(default="")
