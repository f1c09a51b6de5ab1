"""Who plays in the demo band, and what befell them in the last ten weeks."""

from dataclasses import dataclass, field
from datetime import date, time, timedelta

from orexis.core.coach.about import About, Experience, Wish
from orexis.core.coach.known import Event, EventKind
from orexis.core.exercises.practised import Values
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.judging.standard import Standard
from orexis.practice.simulation import Habits
from orexis.standin.profiles import Skilled
from orexis.store.players import PlayerDetails

WEEKS = 10
_CONCERT_BACK, _CONCERT_AHEAD = 16, 12


@dataclass(frozen=True, slots=True)
class ExtraPractice:
    """What else a player practises with sound: a family, what it is set to, and on which days."""

    family: str
    values: Values
    days_back: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Member:
    """A player of the band: who they are, what they tell the coach, which programmes they follow
    and since how many days, what befell them (days back), how well they play, the notes (sounding)
    they hold with sound, for how long and on which days, what they play after that, and whether a
    teacher listens to them."""

    details: PlayerDetails
    about: About
    notes: tuple[int, ...]
    hold_s: float
    skilled: Skilled
    days_back: tuple[int, ...]
    also: ExtraPractice
    approaches: dict[str, str] = field(default_factory=dict)
    programmes: tuple[tuple[str, int], ...] = ()
    away_back: tuple[int, ...] = ()
    tired_back: tuple[int, ...] = ()
    hurt_back: tuple[int, ...] = ()
    quiet_until_back: int | None = None
    room_semitones: float = 12.0
    has_teacher: bool = False

    def habits_on(self, today: date) -> Habits:
        """What befell them, by date."""

        def days(back: tuple[int, ...]) -> frozenset[date]:
            return frozenset(today - timedelta(days=one) for one in back)

        quiet = self.quiet_until_back
        return Habits(
            away=days(self.away_back),
            tired_days=days(self.tired_back),
            hurt_days=days(self.hurt_back),
            misses=0.1,
            quiet_until=None if quiet is None else today - timedelta(days=quiet),
            room_semitones=self.room_semitones,
        )


def events_on(today: date) -> tuple[Event, ...]:
    """The band's concerts: the harbour one behind it, the centenary ahead."""
    return (
        Event(today - timedelta(days=_CONCERT_BACK), EventKind.CONCERT, "The harbour concert"),
        Event(
            today + timedelta(days=_CONCERT_AHEAD), EventKind.CONCERT, "The lighthouse centenary"
        ),
    )


BAND = (
    Member(
        PlayerDetails("Maren", "tenor-horn-eb", NoteView.WRITTEN, Clef.TREBLE),
        About(
            Experience.SOME_YEARS,
            Wish.UP,
            25,
            4,
            weeks_off=10,
            quiet_from=time(20, 30),
            quiet_until=time(8, 0),
        ),
        (58, 63, 61, 56),
        4.0,
        Skilled.COMING_BACK,
        (66, 52, 38, 24, 9, 4, 1, 0),
        ExtraPractice("lip-slur", {"slots": 3, "times": 3}, (1, 0)),
        programmes=(("graded-return", 70), ("slur-pyramid", 30)),
        away_back=(20, 37, 38),
        has_teacher=True,
        tired_back=(26, 25, 24, 23, 22),
    ),
    Member(
        PlayerDetails("Jory", "tuba-eb-4v-comp", NoteView.SOUNDING, Clef.BASS),
        About(Experience.SOME_YEARS, Wish.DOWN, 30, 4),
        (39, 34, 27, 32),
        5.0,
        Skilled.LOW_REGISTER,
        (64, 50, 36, 22, 8, 5, 2, 1),
        ExtraPractice("chained-intervals", {}, (1,)),
        approaches={"low-air": "slower", "pedals": "both"},
        programmes=(("pedal-sets", 60), ("low-intervals", 60)),
        away_back=(27, 28, 29, 30, 31, 32, 33),
    ),
    Member(
        PlayerDetails("Pia", "cornet-bb", NoteView.WRITTEN, Clef.TREBLE, standard=Standard.KIND),
        About(Experience.FIRST_WEEKS, Wish.FIT, 10, 5),
        (58, 60, 62, 65),
        2.0,
        Skilled.BEGINNER,
        (14, 7, 6, 3, 2, 0),
        ExtraPractice("lip-slur", {"times": 3}, (2, 0)),
        programmes=(("first-buzz", 70),),
        # Her first weeks were on the mouthpiece alone; the cornet came three weeks ago.
        quiet_until_back=18,
    ),
    Member(
        PlayerDetails(
            "Osk", "trombone-bass", NoteView.SOUNDING, Clef.BASS, standard=Standard.STRICT
        ),
        About(Experience.MANY_YEARS, Wish.FLEXIBILITY, 30, 4),
        (46, 41, 36, 34),
        5.0,
        Skilled.EXPERIENCED,
        (65, 51, 37, 23, 7, 4, 1, 0),
        ExtraPractice("expanding-glide", {}, (0,)),
        approaches={"after-failure": "once-more"},
        programmes=(("two-octaves", 50),),
        hurt_back=(41,),
        # What he has is what he keeps: a plateau.
        room_semitones=1.0,
    ),
)
