"""A verdict on a whole attempt in words: what failed and where, and the one thing to change."""

from orexis.core.exercises.family import Aim, Task
from orexis.core.judging.aims import RULES
from orexis.core.judging.attempts import AimResult, AttemptVerdict
from orexis.core.judging.words import Name, Said
from orexis.core.score.steps import Play

_FAILED: dict[Aim, str] = {
    Aim.CENTRE: "{at} lies {amount:.0f} cents {way}",
    Aim.STEADY: "{at} shakes by ± {amount:.0f} cents",
    Aim.START: "{at} is slid into from {amount:.0f} cents {beside}",
    Aim.END: "{at} ends {amount:.0f} cents {way}",
    Aim.HELD: "{at} is held for {amount:.0f} % of its time",
    Aim.SPEAKS: "{at} begins on a wrong slot",
    Aim.GAP: "a gap of {amount:.0f} ms before {at}",
    Aim.TOUCHED: "a slot speaks for {amount:.0f} ms on the way to {at}",
    Aim.FLIPPED: "the slot above {at} speaks first",
    Aim.WANING: "the sound wanes by {amount:.0f} dB before {at}",
    Aim.SPOKE: "{at} does not speak",
    Aim.ONE_BREATH: "{amount:.0f} more breaths than there are",
    Aim.SAME_SOUND: "{at} is {amount:.0f} dB {louder} than the first",
    Aim.EVEN: "the notes are uneven by {amount:.0f} %",
    Aim.CLEAR: "only {amount:.0f} % of the notes are clear",
    Aim.BREAKS: "the glide breaks {amount:.0f} times",
    Aim.SPAN: "it stays {amount:.1f} half steps short of its span",
    Aim.NO_CATCH: "a slot catches on the way to {at}",
    Aim.ENDS_ALIKE: "{at} is {amount:.0f} dB {louder} than where the glide began",
    Aim.CAME_BACK: "it comes back {amount:.0f} cents {way}",
    Aim.SHAPE: "{at} goes against the dynamic asked for",
}

_ADVICE: dict[Aim, str] = {
    Aim.CENTRE: "Listen for where the sound clears, and stay there.",
    Aim.STEADY: "Keep the air as fast at the end as at the start.",
    Aim.START: "Hear the note first, then place it.",
    Aim.END: "Spend the air as if it got faster, and stop before it runs out.",
    Aim.HELD: "Fill up in two stages, and hold it for as long as it is good.",
    Aim.SPEAKS: "Hear it, breathe with it, then play.",
    Aim.GAP: "Blow through the change: a moment of more air right before it.",
    Aim.TOUCHED: "Tongue it once to set the sound in the ear, then slur; the air leads.",
    Aim.FLIPPED: "Less push going up; chin firm, and the corners hold.",
    Aim.WANING: "Lead with air: into the change the sound grows rather than fades.",
    Aim.SPOKE: "Slower, and fewer notes, until every one of them speaks.",
    Aim.ONE_BREATH: "A fuller breath before it, or a little quicker.",
    Aim.SAME_SOUND: "Make the last note as good as the first.",
    Aim.EVEN: "Slower, with a beat under it.",
    Aim.CLEAR: "Half the speed: lock each note, then faster.",
    Aim.BREAKS: "A smaller span, with the air kept moving.",
    Aim.SPAN: "Begin nearer the middle, and widen it a little each time.",
    Aim.NO_CATCH: "Slower: the same air, and only the slide moves.",
    Aim.ENDS_ALIKE: "A new breath, and the same air up to the end.",
    Aim.CAME_BACK: "A smaller bend; jaw quiet, and let it settle back.",
    Aim.SHAPE: "Begin with less, so that there is room for the shape.",
}
"""The one thing to change when an aim was missed."""


def said_of(task: Task, verdict: AttemptVerdict, name: Name) -> Said:
    """The verdict in words; `name` gives a sounding note's name."""
    worst = verdict.worst
    if worst is None:
        return Said("Go on.", "")
    what = failure_words(task, worst, name)
    return Said(f"Again: {what}.", _ADVICE[worst.aim])


def failure_words(task: Task, result: AimResult, name: Name) -> str:
    """What was missed, in the words of its aim."""
    measured = result.measured
    return _FAILED[result.aim].format(
        at=_place(task, result, name),
        amount=abs(measured),
        way="high" if measured > 0 else "low",
        beside="above" if measured > 0 else "below",
        louder="louder" if measured > 0 else "softer",
    )


def _place(task: Task, result: AimResult, name: Name) -> str:
    """The note where it was, told from others of its name by which one it is."""
    if result.at is None:
        return "it"
    steps = task.score.steps
    step = steps[result.at.step]
    if not isinstance(step, Play):
        return "it"
    same = [
        place
        for place, other in enumerate(steps)
        if isinstance(other, Play) and other.midi == step.midi
    ]
    said = name(step.midi)
    if len(same) > 1:
        said = f"{said} ({_ordinal(same.index(result.at.step) + 1)})"
    if task.score.times > 1:
        said = f"{said} in the {_ordinal(result.at.time + 1)} time"
    return said


def _ordinal(number: int) -> str:
    ending = {1: "st", 2: "nd", 3: "rd"}.get(number % 10 if number % 100 not in (11, 12, 13) else 0)
    return f"{number}{ending or 'th'}"


def number_words(result: AimResult) -> tuple[str, str]:
    """An aim's number as it is read, and its unit; of one that cannot be told, why."""
    if result.untold:
        return "", result.untold
    often = f", {result.right} of {result.chances}" if result.chances > 1 else ""
    return f"{result.measured:.3g}", f"{RULES[result.aim].unit}{often}"


def limit_words(result: AimResult) -> str:
    """What is asked of an aim."""
    bound = "at least" if RULES[result.aim].least else "at most"
    return f"{bound} {result.limit:g}"


def attempt_lines(task: Task, verdict: AttemptVerdict, name: Name) -> list[str]:
    """The verdict, then every aim with its number and how often it went well."""
    said = said_of(task, verdict, name)
    lines = [said.headline]
    if said.change:
        lines.append(said.change)
    for result in verdict.results:
        number, unit = number_words(result)
        if result.untold:
            lines.append(f"  {result.aim.value}: not told, {unit}")
        else:
            outcome = "yes" if result.passed else "no"
            lines.append(
                f"  {result.aim.value}: {outcome}, {number} {unit} ({limit_words(result)})"
            )
    return lines
