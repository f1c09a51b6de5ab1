"""The check before hard work: one held middle note and the easy low note say whether it is played,
halved or left out."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from orexis.core.exercises.book import ONE_NOTE, find_family, task_of
from orexis.core.exercises.family import Group
from orexis.core.exercises.practised import AttemptOrder
from orexis.core.exercises.writer import Writer
from orexis.core.session.building import easy_low_note
from orexis.core.session.plan import Block, Rung

_HOLD_S = 4.0
_ATTEMPTS = 2
"""How often each note may be tried."""
_OF = {Group.HIGH: "high notes", Group.PEDALS: "pedals"}


def with_checks(blocks: Sequence[Block], writer: Writer) -> tuple[Block, ...]:
    """The exercises of a session with a check before each that is hard on the lips."""
    return tuple(_checked(blocks, writer))


def _checked(blocks: Sequence[Block], writer: Writer) -> Iterator[Block]:
    for block in blocks:
        if block.works:
            yield _check(writer, _OF[block.group])
        yield block


def _check(writer: Writer, of_what: str) -> Block:
    easy = writer.reach.easy
    middle = easy + max(writer.reach.high - easy, 0) // 2
    family = find_family(ONE_NOTE)
    held = task_of(family, writer, {"from_midi": float(middle), "hold_s": _HOLD_S})
    names = writer.name(middle), writer.name(easy)
    return Block(
        title=f"Check before {of_what}",
        why=f"Hold {names[0]}, then play {names[1]}: do the lips still answer?",
        group=Group.LONG,
        follow=AttemptOrder.REPEAT,
        rungs=(Rung(names[0], held.once), Rung(names[1], easy_low_note(writer))),
        most_fails=_ATTEMPTS,
        checks=True,
    )


def halved(block: Block) -> Block:
    """Half of an exercise: half of its sets and of its time."""
    playing_s = block.within_s or block.seconds - block.rests.block_s
    return replace(block, sets=max(block.sets // 2, 1), within_s=playing_s / 2)
