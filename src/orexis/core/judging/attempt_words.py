"""A verdict on an attempt in words: what failed and where, and the one thing to change."""

from orexis.core.exercises.task import Task
from orexis.core.judging.aim_words import WORDS, limit_words, number_words
from orexis.core.judging.attempts import AimResult, Verdict
from orexis.core.judging.seen import Place
from orexis.core.judging.words import Name, Said, passed_word
from orexis.core.score.steps import Play, Role


def said_of(task: Task, verdict: Verdict, name: Name, overruled_passed: bool | None = None) -> Said:
    """The verdict in words; `name` gives a sounding note's name. The player may have overruled
    the gate."""
    gate = _gate_says(task, verdict, name)
    if overruled_passed is None:
        return gate
    return Said(f"You say: {passed_word(overruled_passed)}.", f"The gate said: {gate.headline}")


def _gate_says(task: Task, verdict: Verdict, name: Name) -> Said:
    worst = verdict.worst
    if worst is None:
        return Said("Go on.", "")
    for silent in verdict.silent:
        if silent.heard_midi is not None:
            wanted = _name_of(task, silent.at, name)
            heard = name(silent.heard_midi)
            place = f" in place of {wanted}" if _asked_notes(task) > 1 else ""
            return Said(
                f"That was {heard}{place}. Again.",
                f"Hear {wanted} in your head first, then place it.",
            )
    return Said(f"Again: {missed_words(task, worst, name)}.", WORDS[worst.aim].advice(worst))


def missed_words(task: Task, result: AimResult, name: Name) -> str:
    """What was missed, with the note where it was where there are several."""
    at = _place(task, result.at, name) if _asked_notes(task) > 1 else ""
    return WORDS[result.aim].missed(result, at)


def _asked_notes(task: Task) -> int:
    played = [one for one in task.score.notes if one.role is not Role.REFERENCE]
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
        said = f"{said} in the {_ordinal(at.time + 1)} time"
    return said


def _name_of(task: Task, at: Place, name: Name) -> str:
    step = task.score.steps[at.step]
    return name(step.midi) if isinstance(step, Play) else ""


def _ordinal(number: int) -> str:
    ending = {1: "st", 2: "nd", 3: "rd"}.get(number % 10 if number % 100 not in (11, 12, 13) else 0)
    return f"{number}{ending or 'th'}"


def attempt_lines(task: Task, verdict: Verdict, name: Name) -> list[str]:
    """The verdict, then every aim with its number and how often it went well."""
    said = said_of(task, verdict, name)
    lines = [said.headline]
    if said.change:
        lines.append(said.change)
    for result in verdict.results:
        counts = WORDS[result.aim].counts
        number, unit = number_words(result)
        if result.untold:
            lines.append(f"  {counts}: not told, {unit}")
        elif result.passed:
            lines.append(f"  {counts}: yes, {number} {unit}".rstrip())
        else:
            lines.append(f"  {counts}: no, {number} {limit_words(result)}".rstrip())
    return lines
