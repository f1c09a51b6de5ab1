"""What a session is set to, and the plan that gives on a player's horn."""

from dataclasses import asdict, dataclass
from datetime import UTC, date, datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session

from orexis.core.coach.care import held_back
from orexis.core.exercises.book import ONE_NOTE, check_heard, current_key, find_family
from orexis.core.exercises.practised import Value
from orexis.core.exercises.writer import Writer
from orexis.core.session.building import Setting, block_of
from orexis.core.session.checking import with_checks
from orexis.core.session.plan import Block, Plan, SessionKind
from orexis.core.session.quiet import quietly
from orexis.core.session.ready import ReadySession, ready_for
from orexis.core.times import EARLIEST, LATEST
from orexis.practice.exercises import writer_for
from orexis.store.models import Player
from orexis.store.sessions import hurt_since


@dataclass(frozen=True, slots=True)
class SessionSetup:
    """What a session says of itself. Nobody's (`None`) is only what is played without a task.
    `exercises` are what it is made of, and `title` is what it is
    called ("" for one exercise by itself). `drone_hz` is a tone the application
    itself is sounding; `latency_s` is how long its sounds take back to the microphone, where that
    was measured; `started_at` is when its sample 0 was."""

    player_id: int | None
    title: str
    exercises: tuple[Setting, ...]
    source: str
    sample_rate: int
    drone_hz: float | None
    latency_s: float | None
    started_at: datetime
    kind: SessionKind

    def as_json(self) -> dict[str, Any]:
        """The setup as JSON, for a spool."""
        return {**asdict(self), "started_at": self.started_at.isoformat()}

    @classmethod
    def read(cls, kept: dict[str, Any]) -> "SessionSetup":
        """What a spool says. Raises `ValueError` when it makes no sense."""
        try:
            setup = cls(
                player_id=None if kept["player_id"] is None else int(kept["player_id"]),
                title=str(kept.get("title", "")),
                exercises=_exercises(kept),
                source=str(kept["source"]),
                sample_rate=int(kept["sample_rate"]),
                drone_hz=_number(kept.get("drone_hz")),
                latency_s=_number(kept.get("latency_s")),
                started_at=datetime.fromisoformat(kept["started_at"]).astimezone(UTC),
                kind=SessionKind(kept["kind"]) if "kind" in kept else _kind_by(kept),
            )
        except (LookupError, TypeError, OverflowError, AttributeError) as error:
            raise ValueError(f"it does not say what was played: {error!r}") from error
        setup.check()
        return setup

    def check(self) -> None:
        """Raises `ValueError` for a time nobody practises at."""
        if not EARLIEST <= self.started_at < LATEST:
            raise ValueError("The clock of this computer is wrong: set it, then try again.")

    def plan_on(self, writer: Writer) -> Plan:
        """The plan it gives on a horn. Raises `ExerciseRefusedError`."""
        by_itself = self.kind is SessionKind.TASK
        blocks = tuple(block_for(setting, writer, by_itself) for setting in self.exercises)
        if self.kind is SessionKind.PLAN:
            blocks = with_checks(blocks, writer)
        return Plan(self.title, blocks, self.kind)


def block_for(setting: Setting, writer: Writer, open_ended: bool) -> Block:
    """An exercise as a block. Raises `ExerciseRefusedError`, also for one by itself that makes no
    sound to listen to."""
    way = dict(setting.way)
    if open_ended:
        way.setdefault("follow", "repeat")
        way.setdefault("metronome", "off")
    block = block_of(
        setting.family, writer, setting.values, way, setting.why, open_ended=open_ended
    )
    if open_ended:
        check_heard(block.rungs[0].task)
    return block


def _kind_by(kept: dict[str, Any]) -> SessionKind:
    """What kind of session a spool of before its kind was kept is."""
    return SessionKind.PLAN if kept.get("title") else SessionKind.TASK


def _number(kept: Any) -> float | None:
    return None if kept is None else float(kept)


def _exercises(kept: dict[str, Any]) -> tuple[Setting, ...]:
    """What is practised. Spools of before knew one exercise, and those before them one note."""
    if "exercises" in kept:
        return tuple(
            Setting(
                current_key(str(exercise["family"])),
                _values(exercise["values"]),
                _values(exercise["way"]),
                exercise["why"],
            )
            for exercise in kept["exercises"]
        )
    if "family" in kept:
        return (Setting(current_key(str(kept["family"])), _values(kept["values"]), {}),)
    note = {"from_midi": float(int(kept["midi"])), "hold_s": float(kept["hold_s"])}
    return (Setting(ONE_NOTE, note, {}),)


def _values(kept: dict[str, Any]) -> dict[str, Value]:
    found: dict[str, Value] = {}
    for key, value in kept.items():
        found[str(key)] = value if isinstance(value, str) else float(value)
    return found


OPEN_FOR = timedelta(hours=18)
"""How long after its beginning a session can be gone on with."""


@dataclass(frozen=True, slots=True)
class OfferedSession:
    """A session that can be played now: what it is made of, about how long it takes, and what is
    left out of it and why."""

    title: str
    why: str
    settings: tuple[Setting, ...]
    seconds: float
    left_out: tuple[str, ...]


def offered_sessions(session: Session, player: Player, quiet: bool) -> list[OfferedSession]:
    """The sessions that are ready for a player; in quiet hours on the mouthpiece alone."""
    writer, hurt_on = writer_for(session, player), hurt_since(session, player.id)
    return [_offered(session, writer, hurt_on, quiet) for session in ready_for(writer)]


def _offered(
    session: ReadySession, writer: Writer, hurt_on: date | None, quiet: bool
) -> OfferedSession:
    kept: list[Setting] = []
    left_out: list[str] = []
    for setting in session.settings:
        title = find_family(setting.family).title
        if held_back(hurt_on, setting.family):
            left_out.append(f"{title} waits, since something hurt.")
            continue
        played = quietly(setting, writer) if quiet else setting
        if played is None:
            left_out.append(f"{title} needs the horn.")
        else:
            kept.append(played)
    seconds = sum(block_for(setting, writer, False).seconds for setting in kept)
    # Said once of an exercise that is there several times.
    said = tuple(dict.fromkeys(left_out))
    return OfferedSession(session.title, session.why, tuple(kept), seconds, said)
