"""Which exercise a block of the day is, at which rung, and why that one."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from orexis.core.coach.about import Experience, Lips
from orexis.core.coach.day import Part
from orexis.core.coach.known import Known
from orexis.core.coach.schools import choice
from orexis.core.coach.standing import Standing, hard_days, is_dependable
from orexis.core.exercises.book import COLD, find_family, task_of
from orexis.core.exercises.family import ExerciseRefusedError, Value
from orexis.core.session.building import Setting

_BELOW = 3
"""A ladder starts so many rungs below the last secure note."""
_BEYOND = 2
"""And may come so many above what it came to before."""
_MOST_RUNGS = 12
_COLD_AGAIN_DAYS = 6
"""A pick from silence is asked for again no sooner than after so many days."""
_LADDERS_AGAIN = 2.0
"""Steps one at a time come round so much sooner than other high work."""

_FAMILIES: dict[Part, tuple[str, ...]] = {
    Part.BREATH: ("breath",),
    Part.BUZZ: ("siren", "sustained-buzz", "interval-buzz", "slur-shape", "first-buzz"),
    Part.LONG: ("low-long-tones", "finding-the-centre", "dynamics"),
    Part.SLURS: (
        "slot-slur",
        "through-the-lengths",
        "pyramid",
        "skip-slur",
        "shaped-slur",
        "accelerating-slur",
    ),
    Part.INTERVALS: ("buzz-then-play", "interval-rhythms", "bend"),
    Part.LOW: ("chained-intervals", "low-scales", "couplets"),
    Part.PEDALS: ("pedal-arpeggio", "pedal-chromatic", "pedal-sets"),
    Part.HIGH: (
        "glide-ladder",
        "chromatic-ladder",
        "rising-triads",
        "two-octave-scale",
        "next-note",
        "engaged-corners",
        "light-hold-pyramid",
    ),
    Part.MUSIC: ("melody",),
    Part.WARM_DOWN: ("double-pedals", "low-long-tones"),
}
_FIRST_WEEKS: dict[Part, tuple[str, ...]] = {
    Part.BUZZ: ("first-buzz", "siren"),
    Part.LONG: ("long-tone", "low-long-tones"),
    Part.SLURS: ("slot-slur",),
}
_LADDERS = frozenset(
    {"glide-ladder", "chromatic-ladder", "rising-triads", "two-octave-scale", "next-note"}
)
_STEPS = frozenset({"glide-ladder", "chromatic-ladder", "next-note"})
_AFTER_FAIL: dict[str, dict[str, Value]] = {
    "back": {"after_fail": "back", "fails": 3.0},
    "once-more": {"after_fail": "again", "fails": 2.0},
    "stop": {"after_fail": "again", "fails": 1.0},
    "beyond": {"after_fail": "beyond", "fails": 2.0},
}


@dataclass(frozen=True, slots=True)
class Chosen:
    """An exercise, one sentence of why, the facts behind it, and what the player's schools say of
    how to play it ("" for nothing)."""

    setting: Setting
    reason: str
    facts: tuple[str, ...]
    says: str = ""


def chosen_for(kind: Part, known: Known, lips: Lips) -> Iterator[Chosen]:
    """Exercises for a block, the best one first; one the horn cannot do is left out."""
    says = _says(kind, known)
    for candidate in _candidates(kind, known, lips):
        one = replace(candidate, says=says)
        family = find_family(one.setting.family)
        try:
            task_of(family, known.writer, one.setting.values)
        except ExerciseRefusedError:
            continue
        yield one


_SAYS: dict[tuple[Part, str, str], str] = {
    (Part.SLURS, "jaw", "still"): "The tongue leads, the jaw is quiet.",
    (Part.SLURS, "jaw", "moves"): "Let the jaw find each slot.",
    (Part.HIGH, "pressure", "least"): "Press as little as you can.",
    (Part.HIGH, "pressure", "some"): "Light; what the top asks for goes away again below it.",
    (Part.HIGH, "pressure", "zero"): "No pressing at all.",
    (Part.LONG, "starts", "breath"): "Begin each on air alone.",
    (Part.LOW, "low-air", "slower"): "Open and unforced, slow air.",
    (Part.LOW, "low-air", "faster"): "Faster, and more air.",
}


def _says(kind: Part, known: Known) -> str:
    """What the player's schools say of how a kind of work is played."""
    found = (
        words
        for (part, question, answer), words in _SAYS.items()
        if part is kind and choice(known.schools, question) == answer
    )
    return " ".join(found)


def _candidates(kind: Part, known: Known, lips: Lips) -> Iterator[Chosen]:
    yield from _from_programmes(kind, known)
    if kind is Part.HIGH:
        yield from _cold_picks(known)
    families = _FAMILIES[kind]
    if known.about.experience is Experience.FIRST_WEEKS:
        families = _FIRST_WEEKS.get(kind, families)
    if kind is Part.LONG and lips in (Lips.TIRED, Lips.SORE):
        families = families[:1]
    for key in _in_turn(families, known, kind):
        chosen = _set(kind, key, known, lips)
        if chosen is not None:
            yield chosen


def _in_turn(families: tuple[str, ...], known: Known, kind: Part) -> list[str]:
    """What was left longest comes first; low long tones at the latest every second day, and what
    comes down again always in the same order."""
    if kind is Part.WARM_DOWN:
        return list(families)
    if kind is Part.LONG and (known.history.days_since(families[0], known.today) or 2) >= 2:
        return list(families)

    def days(key: str) -> float:
        since = known.history.days_since(key, known.today)
        return 999.0 if since is None else float(since)

    def rank(key: str) -> tuple[bool, float, int]:
        light = key == "light-hold-pyramid" and choice(known.schools, "pressure") == "zero"
        pedal_starts = key == "pedal-sets" and choice(known.schools, "starts") == "breath"
        sooner = _LADDERS_AGAIN if key in _STEPS else 1.0
        return not (light or pedal_starts), -sooner * days(key), families.index(key)

    return sorted(families, key=rank)


def _left(key: str, known: Known) -> str:
    """How long ago an exercise was played, as a fact."""
    title = find_family(key).title
    since = known.history.days_since(key, known.today)
    if since is None:
        return f"{title} has not been played yet."
    if since <= 1:
        return f"{title} was played {'today' if not since else 'yesterday'}."
    return f"{title} was last played {since} days ago."


def _from_programmes(kind: Part, known: Known) -> Iterator[Chosen]:
    for place in known.due:
        asked = place.now.setting
        if asked is None or kind_of(asked.family) is not kind:
            continue
        facts = (place.words, place.programme.earns(), place.programme.rests())
        for setting in _either(asked, known):
            way = {**setting.way, **_way(kind, setting.family, known)}
            if setting.family in _LADDERS:
                way["follow"] = "repeat"
            yield Chosen(
                Setting(setting.family, setting.values, way),
                f"{place.programme.title}: {place.now.name}.",
                facts,
            )


def _either(asked: Setting, known: Known) -> list[Setting]:
    """What earns a stage, first what comes first: a scale over two octaves takes turns with triads
    to its top, which come too where the horn has no note for its bottom."""
    if asked.family != "two-octave-scale":
        return [asked]
    top = float(asked.values["from_midi"]) + 24
    triads = Setting("rising-triads", {"from_midi": top - 7}, {})
    return [triads, asked] if _turn_of_triads(known) else [asked, triads]


def _turn_of_triads(known: Known) -> bool:
    scale = known.history.days_since("two-octave-scale", known.today)
    triads = known.history.days_since("rising-triads", known.today)
    return scale is not None and (triads is None or triads > scale)


def families_of(kind: Part) -> tuple[str, ...]:
    """The exercises that a block of a kind can be."""
    return (*_FAMILIES[kind], COLD) if kind is Part.HIGH else _FAMILIES[kind]


def kind_of(family: str) -> Part:
    """Which block of the day an exercise belongs to."""
    return next((kind for kind, keys in _FAMILIES.items() if family in keys), Part.HIGH)


def _cold_picks(known: Known) -> Iterator[Chosen]:
    """A note that was good on enough days is asked for from silence, to become secure."""
    due, since = cold_due(known), known.history.days_since(COLD, known.today)
    if due is None or (since is not None and since < _COLD_AGAIN_DAYS):
        return
    days = len(hard_days(known.history.heard[due], known.today))
    name = known.writer.name(due)
    yield Chosen(
        Setting(
            COLD,
            {"from_midi": float(due)},
            _way(Part.HIGH, COLD, known),
        ),
        f"{name} was good on {days} days; now from silence.",
        (f"{name} passed on {days} of the last 14 days, and never from silence.",),
    )


def cold_due(known: Known) -> int | None:
    """The highest note that only lacks a pick from silence to be secure, if there is one above
    those that are."""
    secure = known.secure_high or 0
    due = [
        midi
        for midi, standing in known.standings.items()
        if midi > max(secure, known.writer.reach.easy)
        and standing is Standing.HELD
        and is_dependable(known.history.heard[midi], known.today)
        and midi not in known.history.cold
    ]
    return max(due, default=None)


def _set(kind: Part, key: str, known: Known, lips: Lips) -> Chosen | None:
    """An exercise at its rung, as the player's schools have it."""
    writer, schools = known.writer, known.schools
    easy, high = writer.reach.easy, writer.reach.high
    values: dict[str, Value] = {}
    left = _left(key, known)
    # What is breathed leaves no take to tell of.
    reason, facts = _REASONS[kind], [] if kind is Part.BREATH else [left]
    if key in _LADDERS:
        return _ladder(kind, key, known, lips)
    if kind is Part.PEDALS and choice(schools, "pedals") == "loosening":
        return None
    if key == "light-hold-pyramid" and choice(schools, "pressure") == "some":
        return None
    if key == "double-pedals" and (
        known.about.experience is Experience.FIRST_WEEKS or known.history.hurting() is not None
    ):
        return None
    if key == "long-tone":
        values = {"from_midi": float(easy), "hold_s": 4.0}
    if key == "low-long-tones" and kind is Part.WARM_DOWN:
        values, reason = {"notes": 4.0, "hold_s": 4.0}, "Low and easy, to come down again."
    if key == "double-pedals":
        reason = "Loose and short, to come down again."
    if key == "engaged-corners":
        values = {"from_midi": float(max(easy, high - 11)), "rows": 3.0}
    if key in ("slot-slur", "shaped-slur"):
        dynamics = choice(schools, "dynamics-up")
        if key == "shaped-slur" and dynamics == "level":
            return None
        values = {"dynamics": dynamics}
        facts.append(f"Going up: {dynamics.replace('-', ' to ')}, as you chose in Schools.")
    if key == "slot-slur" and known.about.experience is Experience.FIRST_WEEKS:
        values |= {"slot": 2.0}
    if key == "skip-slur":
        # The first time, the tongue puts the sound in the ear.
        new = known.history.days_since(key, known.today) is None
        tongued = new or choice(schools, "starts") == "tongued"
        values = {"first": "tongued-first" if tongued else "slurred"}
    if kind is Part.LOW:
        faster = choice(schools, "low-air") == "faster"
        values = {"beats": 0.5 if faster else 1.5} if key != "couplets" else {}
    if key == "chained-intervals":
        values["how"] = "tenuto" if choice(schools, "starts") == "tongued" else "slurred"
    if key == "melody":
        values = _tune(known)
    way = _way(kind, key, known)
    if kind is Part.WARM_DOWN:
        way["block_rest_s"] = 0.0
    return Chosen(Setting(key, values, way), _WHY.get(key, reason), tuple(facts))


def _tune(known: Known) -> dict[str, Value]:
    """The tune whose turn it is, as high as is comfortable and no higher."""
    family, writer = find_family("melody"), known.writer
    tunes = next(one for one in family.parameters(writer) if one.key == "tune").choices
    tune = tunes[known.today.toordinal() % len(tunes)].value
    task = task_of(family, writer, {"tune": tune})
    low, high = min(task.score.pitches), max(task.score.pitches)
    down = max(min(high - writer.reach.high, low - writer.reach.low), 0)
    return {"tune": tune, "from_midi": float(task.given.whole("from_midi") - down)}


def _ladder(kind: Part, key: str, known: Known, lips: Lips) -> Chosen | None:
    """A ladder from a few rungs below the last secure note to a little above where it came to."""
    if choice(known.schools, "between-tries") == "bottom" and key != "two-octave-scale":
        return None
    family, writer = find_family(key), known.writer
    lowest = next(one for one in family.parameters(writer) if one.is_note).least or 0
    try:
        usual = task_of(family, writer, _alone(key))
    except ExerciseRefusedError:
        return None
    above = max(usual.score.pitches) - usual.given.whole("from_midi")
    secure, ceiling = known.comfortable, known.ceiling
    top_first = secure - _BELOW + 1
    beyond = _BEYOND + (lips is Lips.FRESH)
    rungs = min(max(ceiling + beyond - top_first + 1, 2), _MOST_RUNGS)
    start = max(top_first - above, round(lowest))
    name = writer.name
    facts = [
        f"{name(secure)} is what you can build on; a ladder starts {_BELOW} rungs below it.",
        f"High work came to {name(ceiling)} in the last two weeks, so it goes {beyond} beyond.",
        _left(key, known),
    ]
    for lower in range(4):
        values: dict[str, Value] = {**_alone(key), "from_midi": float(start - lower)}
        try:
            task_of(family, writer, values)
        except ExerciseRefusedError:
            continue
        way = {**_way(kind, key, known), "follow": "ladder", "rungs": float(rungs + lower)}
        first = name(start - lower + above)
        return Chosen(
            Setting(key, values, way),
            f"From {first}, a step at a time; {name(ceiling)} was the ceiling.",
            tuple(facts),
        )
    return None


def _alone(key: str) -> dict[str, Value]:
    """What makes an exercise one step of a ladder."""
    return {"rungs": 1.0} if key in ("glide-ladder", "chromatic-ladder", "rising-triads") else {}


def _way(kind: Part, key: str, known: Known) -> dict[str, Value]:
    """How tries follow each other, as the player's schools have it."""
    schools = known.schools
    way: dict[str, Value] = {}
    if kind is Part.HIGH and key in (*_LADDERS, "light-hold-pyramid"):
        way |= _AFTER_FAIL[choice(schools, "after-failure")]
        if choice(schools, "between-tries") == "breath":
            way |= {"probe": "off", "rest_s": 5.0}
    if kind in (Part.LOW, Part.PEDALS, Part.HIGH):
        way["metronome"] = choice(schools, "metronome")
    return way


_REASONS: dict[Part, str] = {
    Part.BREATH: "Two full, silent breaths wake everything up.",
    Part.BUZZ: "The lips alone find the note first.",
    Part.LONG: "Low and easy first, as long as it is steady.",
    Part.SLURS: "Slow and clean, before anything is fast.",
    Part.INTERVALS: "Far notes made near.",
    Part.LOW: "The same sound and the same set, lower.",
    Part.PEDALS: "Strength with the normal set, and rest as long as you play.",
    Part.HIGH: "A little above what is safe, and not more.",
    Part.MUSIC: "What it is all for: line before height.",
    Part.WARM_DOWN: "Low and easy, to come down again.",
}
_WHY = {
    "finding-the-centre": "A little above, a little below, then where it sounds.",
    "dynamics": "The same centre, soft and loud.",
    "through-the-lengths": "The same slur on every length, from one set.",
    "pyramid": "One slot more each time, without a re-set.",
    "skip-slur": "High to low first; nothing in between.",
    "shaped-slur": "A slur with its loudness written in.",
    "accelerating-slur": "Slow, then twice, three and four times as fast.",
    "bend": "A half step bent and brought back, so that the next note is near.",
    "engaged-corners": "Nose breaths keep the corners where they are.",
    "light-hold-pyramid": "The horn on an open hand: pressing is not possible.",
    "pedal-sets": "Breath starts, each held as long as it is good.",
}
