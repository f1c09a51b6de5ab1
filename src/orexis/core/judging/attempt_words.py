"""A verdict on an attempt in words: what failed and where, and the one thing to change."""

from collections.abc import Sequence

from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import Aim
from orexis.core.exercises.task import Task
from orexis.core.horn.setup import Horn
from orexis.core.horn.tube import extra_length_mm
from orexis.core.horn.ways import standard_way
from orexis.core.judging.aim_words import WORDS, limit_words, number_words
from orexis.core.judging.attempts import AimResult, Verdict
from orexis.core.judging.matching import Place
from orexis.core.judging.mismatch import Mismatch, MismatchKind
from orexis.core.judging.words import Name, Wording, passed_word, sentence
from orexis.core.score.steps import Play, PlayedOn, Role

SAID_IN_A_ROW = 2
"""How often the same advice is given in a row."""


def said_of(
    task: Task,
    verdict: Verdict,
    name: Name,
    overruled_passed: bool | None = None,
    horn: Horn | None = None,
) -> Wording:
    """The verdict in words; `name` gives a sounding note's name. The player may have overruled
    Orexis. On a slide, where the `horn` is known, who is out of tune is told to move it."""
    judged = _judged_words(task, verdict, name, horn)
    if overruled_passed is None:
        return judged
    return Wording(f"You say: {passed_word(overruled_passed)}.", f"Orexis said: {judged.headline}")


def _judged_words(task: Task, verdict: Verdict, name: Name, horn: Horn | None) -> Wording:
    if verdict.mismatch is not None:
        return _mismatch_words(task, verdict.mismatch, name)
    worst = verdict.worst
    if worst is None:
        return Wording("Good.", "")
    for silent in verdict.silent:
        if silent.heard_midi is not None:
            wanted = _place(task, silent.at, name) if _asked_notes(task) > 1 else ""
            heard = name(silent.heard_midi)
            asked = wanted or _name_of(task, silent.at, name)
            return Wording(
                f"You played {heard} instead of {asked}.",
                f"Hear {_name_of(task, silent.at, name)} before you play it, then go for it.",
            )
    moved = None if horn is None else _slide_words(task, worst, horn)
    advice = moved or WORDS[worst.aim].advice(worst)
    return Wording(sentence(missed_words(task, worst, name)), advice)


def other_advice(task: Task, verdict: Verdict, before: Sequence[Verdict]) -> str | None:
    """The exercise's own remedy, where the same was missed at each of the attempts right before
    (`SAID_IN_A_ROW` of them): what did not help is not said once more. Else `None`."""
    worst, family = verdict.worst, FAMILIES.get(task.family_key)
    if worst is None or family is None or verdict.mismatch is not None:
        return None
    same = [
        verdict
        for verdict in before
        if verdict.worst is not None and verdict.worst.aim is worst.aim
    ]
    return family.words.remedy if len(same) >= SAID_IN_A_ROW else None


def _slide_words(task: Task, result: AimResult, horn: Horn) -> str | None:
    """How far to move the slide for a note that was out of tune; `None` where there is none to
    move, or no way to go."""
    if result.aim is not Aim.CENTRE or result.at is None or not horn.instrument.is_slide:
        return None
    step = task.score.steps[result.at.step]
    if not isinstance(step, Play) or step.on is not PlayedOn.HORN:
        return None
    way = standard_way(horn, step.midi)
    length = horn.length(step.length_name) if step.length_name else way and way.length
    if not length or length.extension_mm is None:
        return None
    out_mm = round(extra_length_mm(horn.tube_m(length), result.measured) / 2)
    if out_mm == 0 or not 0 <= length.extension_mm + out_mm <= horn.furthest_mm:
        return None
    way_words = "out" if out_mm > 0 else "in"
    return f"Move the slide {way_words} by {abs(out_mm)} mm, and let the sound clear there."


def _mismatch_words(task: Task, mismatch: Mismatch, name: Name) -> Wording:
    """What is said of an attempt that as a whole does not match its exercise."""
    first = next(note for note in task.score.notes if note.role is not Role.REFERENCE)
    start = name(first.midi)
    match mismatch.kind:
        case MismatchKind.TRANSPOSED:
            return Wording(
                f"All of it was {_distance(mismatch.semitones)}.",
                f"Check which horn and which key is set: this starts on {start}.",
            )
        case MismatchKind.STOPPED:
            return Wording(
                f"You stopped after {_spot(task, mismatch.at, name)}.",
                "Play on to the end, or make the exercise shorter.",
            )
        case MismatchKind.BEGAN_LATER:
            return Wording(
                f"You began at {_spot(task, mismatch.at, name)}.",
                f"Start from the first note, {start}.",
            )
        case MismatchKind.TWICE:
            return Wording("You played all of it twice.", "Play it once, then wait for the answer.")
        case MismatchKind.ANOTHER:
            return Wording(
                "That was not this exercise.",
                f"Check which exercise and which horn is set: this starts on {start}.",
            )


def _distance(semitones: int) -> str:
    way = "high" if semitones > 0 else "low"
    octaves, rest = divmod(abs(semitones), 12)
    if rest == 0:
        return f"{'an octave' if octaves == 1 else f'{octaves} octaves'} too {way}"
    steps = "a half step" if abs(semitones) == 1 else f"{abs(semitones)} half steps"
    return f"{steps} too {way}"


def _spot(task: Task, at: Place | None, name: Name) -> str:
    """A note, and its bar where there are bars."""
    said = _place(task, at, name)
    if at is None or task.score.tempo_bpm is None:
        return said
    return f"{said} in bar {int(task.score.begins[at.step] // task.score.beats_in_bar) + 1}"


def missed_words(task: Task, result: AimResult, name: Name) -> str:
    """What was missed, with the note where it was where there are several, as it is said within a
    sentence."""
    at = _place(task, result.at, name) if _asked_notes(task) > 1 else ""
    return WORDS[result.aim].missed(result, at)


def _asked_notes(task: Task) -> int:
    played = [play for play in task.score.notes if play.role is not Role.REFERENCE]
    return len(played) * task.score.times


def _place(task: Task, at: Place | None, name: Name) -> str:
    """The note where it was, told from others of its name by which one it is."""
    if at is None:
        return ""
    steps = task.score.steps
    step = steps[at.step]
    if not isinstance(step, Play):
        return ""
    same = [
        place
        for place, other in enumerate(steps)
        if isinstance(other, Play) and other.midi == step.midi
    ]
    said = name(step.midi)
    if len(same) > 1:
        said = f"{said} ({_ordinal(same.index(at.step) + 1)})"
    if task.score.times > 1:
        said = f"{said} of repeat {at.time + 1}"
    return said


def _name_of(task: Task, at: Place, name: Name) -> str:
    step = task.score.steps[at.step]
    return name(step.midi) if isinstance(step, Play) else ""


def _ordinal(number: int) -> str:
    ending = {1: "st", 2: "nd", 3: "rd"}.get(number % 10 if number % 100 not in (11, 12, 13) else 0)
    return f"{number}{ending or 'th'}"


def attempt_lines(task: Task, verdict: Verdict, name: Name, horn: Horn | None = None) -> list[str]:
    """The verdict, then every aim with its number and how often it went well."""
    said = said_of(task, verdict, name, horn=horn)
    lines = [said.headline]
    if said.change:
        lines.append(said.change)
    for result in verdict.results:
        counts = WORDS[result.aim].counts
        number, unit = number_words(result)
        if result.untold:
            lines.append(f"  {counts}: not measured, {unit}")
            continue
        limit = limit_words(result)
        said_number = f"{number} {unit}".strip()
        bound = f" ({limit})" if limit and not result.passed else ""
        lines.append(f"  {counts}: {'good' if result.passed else 'not yet'}, {said_number}{bound}")
    return lines
