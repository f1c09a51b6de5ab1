"""Is it true? Every sentence of a thousand plans is held against what was played, by arithmetic of
its own: a sentence that nothing here knows is as wrong as one that is not so."""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise

from bench.goals import at_most
from orexis.core.coach.about import About, Experience, Lips, Wish
from orexis.core.coach.day import DayBlock, DayPlan, PlanRequest
from orexis.core.coach.following import Following
from orexis.core.coach.history import PastAttempt
from orexis.core.coach.known import Event, EventKind, PlayerFacts
from orexis.core.coach.planning import plan_day
from orexis.core.coach.programmes import PROGRAMMES
from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import Group
from orexis.core.exercises.paths import path_of
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.judging.standard import Standard
from orexis.core.session.building import block_of
from orexis.practice.simulation import Habits, SimulatedPlayer, simulate

_DAY = timedelta(days=1)
START = date(2026, 3, 2)
_BY_TITLE = {family.title: key for key, family in FAMILIES.items()}
_STATIC = {
    "Full, silent breaths before the first note.",
    "The lips find the note first, without the horn.",
    "Low and easy first, each held as long as it is steady.",
    "Slow and clean before anything is fast.",
    "Wide intervals that feel close together.",
    "The same sound and embouchure, a little lower.",
    "Strength with your normal embouchure; rest as long as you play.",
    "A little above what is safe, and no more.",
    "Finish with music: phrase it, don't reach for notes.",
    "Easy low notes to relax the lips.",
} | {
    words
    for family in FAMILIES.values()
    for words in (family.practised.reason, family.practised.coming_down_reason)
    if words
}
"""What is said of a kind of work as such, which claims nothing of the player."""


@dataclass(frozen=True)
class Told:
    """A sentence of a plan, where it stands, and all that is known."""

    known: PlayerFacts
    asked: PlanRequest
    plan: DayPlan
    block: DayBlock | None

    @property
    def today(self) -> date:
        """The day it is said on."""
        return self.known.today

    def midi(self, name: str) -> int:
        """A note by its name."""
        return next(midi for midi, each in self.known.names if each == name)

    def attempts(self, days: int | None = None) -> list[PastAttempt]:
        """What was tried before today and today, or in the last days."""
        since = date.min if days is None else self.today - days * _DAY
        return [attempt for attempt in self.known.history.attempts if attempt.day >= since]

    @property
    def days(self) -> set[date]:
        """The days before today with anything played, here or elsewhere."""
        here = {attempt.day for attempt in self.known.history.attempts}
        last = self.known.history.last_before
        here |= set() if last is None else {last}
        elsewhere = {event.day for event in self.known.events} | {
            day for day, _ in self.known.typed
        }
        return {day for day in here | elsewhere if day < self.today}

    @property
    def hard(self) -> set[date]:
        """The days before today with high notes, pedals or a concert."""
        light = {"cold-picks", "double-pedals"}
        found = {
            attempt.day
            for attempt in self.known.history.attempts
            if attempt.group in (Group.HIGH, Group.PEDALS) and attempt.family not in light
        }
        found |= {event.day for event in self.known.events if event.kind is EventKind.CONCERT}
        return {day for day in found if day < self.today}

    def concert(self, days: int, words: str | None = None) -> bool:
        """Whether there is a concert in so many days, called so."""
        return any(
            event.kind is EventKind.CONCERT
            and event.day == self.today + days * _DAY
            and words in (None, event.words, "Concert", "The concert")
            for event in self.known.events
        )

    def off(self) -> int:
        """The days without playing up to today."""
        return (self.today - max(self.days)).days - 1 if self.days else 0

    def breaks(self) -> set[int]:
        """How long every pause between two days of playing was, up to today."""
        days = sorted({*self.days, self.today})
        return {(after - before).days - 1 for before, after in pairwise(days)}

    def has(self, *kinds: Group) -> bool:
        """Whether the plan has anything of some kinds."""
        return any(block.kind in kinds for block in self.plan.blocks)


def held_on(told: Told, midi: int, days: int | None, level: Standard | None) -> set[date]:
    """The days on which a note was good, at the normal standard or a harder one where a level is
    given, among the last ones."""
    return {
        attempt.day
        for attempt in told.attempts(days)
        if attempt.day > told.today - (days or 10**5) * _DAY
        if attempt.passed and (level is None or attempt.level is not Standard.KIND)
        for note in attempt.notes
        if note.on_horn and note.spoke and note.asked_midi == midi and note.sounded_s >= 0.3
    }


def _is_held(told: Told, midi: int) -> bool:
    return any(
        attempt.passed
        and note.on_horn
        and note.spoke
        and note.asked_midi == midi
        and note.held_s >= 2
        for attempt in told.attempts()
        for note in attempt.notes
    )


def _secure(told: Told, midi: int) -> bool:
    return len(held_on(told, midi, 14, Standard.NORMAL)) >= 3 and midi in told.known.history.cold


def _came_to(told: Told) -> int | None:
    tops = [
        max((note.asked_midi for note in attempt.notes if note.on_horn), default=0)
        for attempt in told.attempts(14)
        if attempt.passed and attempt.group is Group.HIGH
    ]
    return max(tops, default=None)


def _why_less(told: Told, why: str) -> bool:
    """Whether a reason for a narrower day is so."""
    known, hurts = told.known, told.known.history.hurts
    if re.fullmatch(r"we do not know yet how (?:high|low) you play", why):
        return not told.days
    if why.startswith("your lips are"):
        return why == f"your lips are {told.asked.lips.value}"
    if why == "your last day of practice ended at its top":
        last = max(sitting.day for sitting in known.history.sittings if sitting.day < told.today)
        return _at_ceiling(told, last)
    if why == "yesterday was a concert":
        return told.concert(-1)
    if why == "a concert is near":
        return any(told.concert(days) for days in range(4))
    found = re.fullmatch(r"you did not play for (\d+) days", why)
    if found:
        return told.off() == int(found[1])
    if re.fullmatch(r"this is week \d of coming back", why):
        followed = any(
            following.key in ("graded-return", "braces") for following in known.followings
        )
        return bool(hurts) or followed or max(told.breaks(), default=0) >= 14
    return False


def _at_ceiling(told: Told, day: date) -> bool:
    ends = {"enough", "ragged", "tired"}
    return any(
        group is Group.HIGH and close.value in ends
        for sitting in told.known.history.sittings
        if sitting.day == day
        for group, close in sitting.closes
    )


def _last(told: Told, title: str) -> int | None:
    days = [attempt.day for attempt in told.attempts() if attempt.family == _BY_TITLE.get(title)]
    return (told.today - max(days)).days if days else None


def _on_path(told: Told, at: int, count: int, words: str, good: int) -> bool:
    assert told.block is not None
    family = told.block.setting.family
    days = {day.day for day in told.known.history.worked if day.family == family}
    answers = told.known.approaches
    for fixed in ((), *_answered(family, answers)):
        steps = path_of(family, told.known.bare, fixed)
        if len(steps) == count and steps[at - 1].words == words:
            return good <= len(days)
    return False


def _running(told: Told, count: int) -> bool:
    """Whether exactly so many days up to yesterday were played on."""
    days = {told.today - n * _DAY for n in range(1, count + 1)}
    return days <= told.days and told.today - (count + 1) * _DAY not in told.days


def _is_no_step(told: Told) -> bool:
    """Whether an exercise is set to what no step of its path is, or to an earlier one."""
    assert told.block is not None
    setting = told.block.setting
    steps = path_of(setting.family, told.known.bare)
    return not steps or not steps[-1].was_played(setting.values)


def _answered(family: str, approaches: object) -> Iterator[tuple[tuple[str, float | str], ...]]:
    for answer in FAMILIES[family].practised.answers.values():
        yield tuple(sorted(answer.values.items()))


Check = Callable[[Told, re.Match[str]], bool]


def _span(told: Told, first: str, last: str) -> bool:
    """A ladder goes from and to what it says: the top of its first and last rung."""
    assert told.block is not None
    setting = told.block.setting
    block = block_of(setting.family, told.known.writer, setting.values, setting.way)
    tops = [max(rung.task.score.pitches) for rung in block.rungs]
    return (min(tops), max(tops)) == (told.midi(first), told.midi(last))


def _sets(told: Told, found: re.Match[str]) -> bool:
    assert told.block is not None
    setting = told.block.setting
    block = block_of(setting.family, told.known.writer, setting.values, setting.way)
    return (block.sets, len(block.rungs)) == (int(found[1]), int(found[2]))


def _picks(told: Told, names: str, days: int) -> bool:
    midis = [told.midi(name) for name in re.split(r", | and ", names)]
    least = min(len(held_on(told, midi, 14, Standard.NORMAL)) for midi in midis)
    return least == days and not set(midis) & told.known.history.cold


def _limit(told: Told, name: str, why: str, *, is_top: bool) -> bool:
    assert told.block is not None
    midi, block = told.midi(name), told.block
    notes = (block.highest_midi or 0) <= midi if is_top else (block.lowest_midi or 127) >= midi
    return notes and _why_less(told, why)


def _minutes(told: Told, high: float, whole: float) -> bool:
    planned = [block.all_minutes for block in told.plan.blocks if block.kind is Group.HIGH]
    return sum(planned) == high and told.plan.minutes == whole


_IN = {"today": 0, "tomorrow": 1, "in two days": 2, "in three days": 3}
CHECKS: tuple[tuple[str, Check], ...] = (
    (r"(.+) is (today|tomorrow|in two days|in three days), so there is less\.",
     lambda t, m: t.concert(_IN[m[2]], m[1])),
    (r"(.+) is (\d+) days ahead\.", lambda t, m: t.concert(int(m[2]), m[1])),
    (r"(.+) was yesterday: an easy day\.",
     lambda t, m: t.concert(-1, m[1]) and not t.has(Group.HIGH, Group.PEDALS)),
    (r"You did not play for (\d+) days: a short, easy day\.", lambda t, m: t.off() == int(m[1])),
    (r"Back after (\d+) days without playing: \d+ % of your time this week\.",
     lambda t, m: int(m[1]) in t.breaks() and int(m[1]) >= 14),
    (r"Back after something hurt: \d+ % of your time this week, more next\.",
     lambda t, m: any(
         h.cleared and t.today - h.cleared < 35 * _DAY for h in t.known.history.hurts)),
    (r"Something hurt on (\d\d)\.(\d\d)\. Rest: .+",
     lambda t, m: any(
         h.cleared is None and f"{h.day:%d.%m}" == f"{m[1]}.{m[2]}" for h in t.known.history.hurts
     ) and not t.has(*(set(Group) - {Group.BREATH}))),
    (r"Your lips are tired: shorter, and nothing high\.",
     lambda t, m: t.asked.lips is Lips.TIRED and not t.has(Group.HIGH)
     and t.plan.minutes < t.asked.minutes),
    (r"Sore lips: .+", lambda t, m: t.asked.lips is Lips.SORE and t.plan.minutes <= 10),
    (r"(Yesterday|\w+day) ended at the ceiling, so no hard work today\.",
     lambda t, m: not t.has(Group.HIGH, Group.PEDALS) and any(
         _at_ceiling(t, day) and m[1] in (f"{day:%A}", "Yesterday")
         for day in {sitting.day for sitting in t.known.history.sittings}
         if day < t.today and (m[1] != "Yesterday" or day == t.today - _DAY))),
    (r"You have played (\d+) days running, so today is for rest\.",
     lambda t, m: _running(t, int(m[1]))
     and not t.has(*(set(Group) - {Group.BREATH}))),
    (r"The concert is in (\d+) days and you have played (\d+) days running, so today is for rest\.",
     lambda t, m: _running(t, int(m[2])) and t.concert(int(m[1]))
     and not t.has(*(set(Group) - {Group.BREATH}))),
    (r"Yesterday was a hard day, so today is an easy one\.",
     lambda t, m: t.today - _DAY in t.hard and not t.has(Group.HIGH, Group.PEDALS)),
    (r"(?:The same note, buzzed|The shape of the slur, as a glide|The interval, heard and buzzed):"
     r" quiet hours\.", lambda t, m: t.asked.quiet),
    (r"Mouthpiece only, so 20 minutes is plenty\.",
     lambda t, m: t.asked.quiet and t.plan.minutes <= 20),
    (r"First day: start in the middle, low and easy, and find out\.", lambda t, m: not t.days),
    (r"(\d+) days without playing; nothing is lost by that\.", lambda t, m: t.off() == int(m[1])),
    (r"You have played today already; this is what there is room for\.",
     lambda t, m: any(attempt.day == t.today for attempt in t.attempts())),
    (r"High work is ([\d.]+) of ([\d.]+) minutes\.",
     lambda t, m: _minutes(t, float(m[1]), float(m[2]))),
    (r"It is shorter than you asked: .+", lambda t, m: t.plan.minutes < 0.9 * t.asked.minutes),
    (r"That is a rule of thumb, and yours to overrule\.", lambda t, m: True),
    (r"This day is ([\d.]+) times your usual one; .+",
     lambda t, m: f"{t.known.load.today / t.known.load.usual:.1f}" == m[1]),
    (r"The last 7 days are ([\d.]+) times your month.*",
     lambda t, m: f"{t.known.load.week / t.known.load.month:.1f}" == m[1]),
    (r"(.+) has not been played yet\.", lambda t, m: _last(t, m[1]) is None),
    (r"(.+) was played (yesterday|today)\.",
     lambda t, m: _last(t, m[1]) == (1 if m[2] == "yesterday" else 0)),
    (r"(.+) was last played (\d+) days ago\.", lambda t, m: _last(t, m[1]) == int(m[2])),
    (r"Step (\d+) of (\d+): (.+)\. (\d) of 2 good days\.",
     lambda t, m: _on_path(t, int(m[1]), int(m[2]), m[3], int(m[4]))),
    (r"Step (\d+) of \1: (.+)\. You have come to the end of this path\.",
     lambda t, m: _on_path(t, int(m[1]), int(m[1]), m[2], 2)),
    (r"Today you play it from another note or in another form\.", lambda t, m: _is_no_step(t)),
    (r"(\S+) is secure\.", lambda t, m: _secure(t, t.midi(m[1]))),
    (r"You gave (\S+) as your highest comfortable note\.",
     lambda t, m: t.known.about.high_midi == t.midi(m[1])),
    (r"(\S+) is the highest note you have held\.",
     lambda t, m: _is_held(t, t.midi(m[1]))
     and not any(_is_held(t, higher) and held_on(t, higher, 30, None)
                 for higher in range(t.midi(m[1]) + 1, t.midi(m[1]) + 24))),
    (r"(\S+) is what players of your experience usually reach; yours is not known yet\.",
     lambda t, m: t.known.about.high_midi is None),
    (r"High work came to (\S+) in the last two weeks\.",
     lambda t, m: _came_to(t) == t.midi(m[1])),
    (r"Nothing above (\S+) today: (.+)\.", lambda t, m: _limit(t, m[1], m[2], is_top=True)),
    (r"Nothing below (\S+) today: (.+)\.", lambda t, m: _limit(t, m[1], m[2], is_top=False)),
    (r"Going up: .+", lambda t, m: "dynamics-up" in t.known.approaches
     or (t.block is not None and "dynamics" in t.block.setting.values)),
    (r"One note: (\S+)\.", lambda t, m: _span(t, m[1], m[1])),
    (r"From (\S+) up to (\S+), a step at a time\.", lambda t, m: _span(t, m[1], m[2])),
    (r"(.+) (?:was|were) good on (\d+) days; now first thing, from silence\.",
     lambda t, m: _picks(t, m[1], int(m[2]))),
    (r"(.+) (?:was|were) good on (\d+) of the last 14 days, and never from silence\.",
     lambda t, m: _picks(t, m[1], int(m[2]))),
    (r"Stage (\d+) of (\d+): (.+)",
     lambda t, m: any(
         len(PROGRAMMES[following.key].stages(following.base_midi)) == int(m[2])
         and m[3].startswith(
             PROGRAMMES[following.key].stages(following.base_midi)[int(m[1]) - 1].name)
         for following in t.known.followings)),
    (r".+ earns? the next stage\.", lambda t, m: any(
        PROGRAMMES[following.key].earns() == m[0] for following in t.known.followings)),
    (r"(?:It can come every day|At least .+ of rest between two of it)\.", lambda t, m: any(
        PROGRAMMES[following.key].rests() == m[0] for following in t.known.followings)),
    (r"(.+), stage (\d+) of (\d+)\.", lambda t, m: any(
        PROGRAMMES[following.key].title == m[1]
        and len(PROGRAMMES[following.key].stages(following.base_midi)) == int(m[3])
        for following in t.known.followings)),
    (r"Today there is time for (\d+) sets? of (\d+) starts?\.", _sets),
    (r"(.+): (.+)\.", lambda t, m: any(
        PROGRAMMES[following.key].title == m[1] for following in t.known.followings)
        and any(stage.name == m[2] for following in t.known.followings
                for stage in PROGRAMMES[following.key].stages(following.base_midi))),
)  # fmt: skip
"""What each sentence claims, by how it reads."""


def sentences(known: PlayerFacts, asked: PlanRequest, plan: DayPlan) -> Iterator[tuple[str, Told]]:
    """Every sentence of a plan, with where it stands."""
    day = Told(known, asked, plan, None)
    for text in (plan.summary, *plan.warnings):
        for sentence in _parted(text):
            yield sentence, day
    for block in plan.blocks:
        told = Told(known, asked, plan, block)
        yield block.reason, told
        for fact in block.facts:
            yield fact, told


def _parted(text: str) -> list[str]:
    """The sentences of a text; those that say what to do about something stay with it."""
    if text.startswith(("Something hurt", "Sore lips", "It is shorter")):
        return [text]
    return [one for one in re.split(r"(?<=[^.\d][.])\s+(?=[A-Z\d])", text) if one]


def wrong(known: PlayerFacts, asked: PlanRequest, plan: DayPlan) -> list[str]:
    """The sentences of a plan that are not so, or that nothing is known to check by."""
    found: list[str] = []
    for sentence, told in sentences(known, asked, plan):
        if sentence in _STATIC:
            continue
        for pattern, check in CHECKS:
            match = re.fullmatch(pattern, sentence)
            if match is not None:
                if not check(told, match):
                    found.append(sentence)
                break
        else:
            found.append(f"unknown: {sentence}")
    return found


def players() -> list[tuple[SimulatedPlayer, Habits]]:
    """Twelve players who differ in horn, experience, wish, days and what befalls them."""
    some, many = Experience.SOME_YEARS, Experience.MANY_YEARS
    first, weeks = Experience.FIRST_YEAR, Experience.FIRST_WEEKS
    concert = Event(START + 40 * _DAY, EventKind.CONCERT, "The centenary")
    rehearsals = tuple(Event(START + n * 7 * _DAY, EventKind.REHEARSAL) for n in range(26))
    away = frozenset(START + n * _DAY for n in range(30, 52))
    short = frozenset(START + n * _DAY for n in range(45, 55))

    def one(
        key: str,
        experience: Experience,
        wish: Wish,
        minutes: int,
        days: int,
        events: tuple[Event, ...] = (),
        following: str = "",
        high: int | None = None,
    ) -> SimulatedPlayer:
        kind = INSTRUMENTS[key]
        about = About(experience, wish, minutes, days, high_midi=high)
        base = kind.start_midi + 12
        followings = (Following(following, START, base),) if following else ()
        bare = Writer(Horn(kind), Reach.usual(kind))
        return SimulatedPlayer(about, bare, events=events, followings=followings)

    return [
        (one("cornet-bb", weeks, Wish.FIT, 20, 6), Habits()),
        (one("cornet-bb", first, Wish.UP, 30, 5), Habits(away=short)),
        (one("trumpet-bb", many, Wish.ENDURANCE, 75, 6, (concert, *rehearsals)), Habits()),
        (one("flugelhorn-bb", some, Wish.FIT, 15, 7), Habits()),
        (one("tenor-horn-eb", some, Wish.FIT, 30, 5), Habits(away=away)),
        (one("horn-f", some, Wish.CENTRING, 45, 4, (concert,)), Habits()),
        (one("euphonium-bb-comp", some, Wish.FLEXIBILITY, 25, 4, following="slur-pyramid"),
         Habits(tired_days=frozenset({START + 20 * _DAY}))),
        (one("trombone-tenor", some, Wish.UP, 40, 6, following="two-octaves"), Habits()),
        (one("trombone-bass", many, Wish.DOWN, 60, 5, following="pedal-sets"), Habits()),
        (one("tuba-eb-4v-comp", some, Wish.DOWN, 40, 5, following="low-intervals"),
         Habits(hurt_days=frozenset({START + 33 * _DAY}))),
        (one("tuba-bb-4v-comp", many, Wish.FIT, 30, 3, following="braces"), Habits()),
        (one("cornet-bb", some, Wish.UP, 30, 5, high=84),
         Habits(quiet_until=START + 10 * _DAY)),
    ]  # fmt: skip


class _Watched:
    """Plans days as the coach does, and keeps what was said wrongly."""

    def __init__(self) -> None:
        self.plans = self.sentences = 0
        self.wrong: list[str] = []

    def __call__(self, known: PlayerFacts, asked: PlanRequest) -> DayPlan:
        plan = plan_day(known, asked)
        self.plans += 1
        self.sentences += sum(1 for _ in sentences(known, asked, plan))
        horn = known.instrument.key
        self.wrong += [f"{known.today} {horn}: {one}" for one in wrong(known, asked, plan)]
        return plan


def watched(player: SimulatedPlayer, habits: Habits, weeks: int, seed: int) -> _Watched:
    """Some weeks of a player, every plan of theirs read."""
    found = _Watched()
    simulate(player, START, weeks, seed, found, habits)
    return found


def main(weeks: int = 20) -> None:
    """Prints how many sentences of how many plans are not so."""
    plans = told = 0
    faults: list[str] = []
    for player, habits in players():
        found = watched(player, habits, weeks, 1)
        plans, told, faults = plans + found.plans, told + found.sentences, faults + found.wrong
    print(f"{plans} plans, {told} sentences")
    for fault in faults[:20]:
        print(f"  {fault}")
    at_most("sentences that are not so", len(faults), 0)


if __name__ == "__main__":
    main()
