"""A family is one file: nothing else names it, and it is planned, practised, judged and told."""

import re
from dataclasses import replace
from pathlib import Path
from types import MappingProxyType

import pytest

import orexis
from orexis.core.coach import choosing
from orexis.core.coach.about import Lips
from orexis.core.coach.care import held_back
from orexis.core.coach.choosing import chosen_for, families_of
from orexis.core.exercises import book
from orexis.core.exercises.book import FAMILIES, find_family, planned_in, task_of
from orexis.core.exercises.family import Family, Group
from orexis.core.exercises.practised import Answer, AttemptOrder, PracticeRules
from orexis.core.session import plan as session_plan
from orexis.core.session.building import Setting, block_of, follows_of
from orexis.core.session.quiet import quietly
from tests.core.coach.days import known
from tests.core.exercises.writing import writer

SOURCES = Path(orexis.__file__).parent
_CONTENT = {
    # What is made of named exercises: programmes, sessions that are ready, questions, the search
    # for a range, the demo's scenario; and what old data files held.
    *("programmes.py", "ready.py", "questions.py", "finding.py", "band.py", "warming.py"),
    "0005_tasks.py",
}


@pytest.fixture
def echoes(monkeypatch: pytest.MonkeyPatch) -> Family:
    """A new kind of slur: loud, then soft; not for those who hold with one loudness."""
    family = replace(
        FAMILIES["lip-slur"],
        key="echoes",
        title="Echoes",
        practised=PracticeRules(
            follow=AttemptOrder.GROW,
            turn=1,
            answers={("dynamics-up", "level"): Answer(left_out=True)},
            reason="Loud, then as an echo.",
        ),
    )
    more = MappingProxyType({**FAMILIES, family.key: family})
    for module in (book, choosing, session_plan):
        monkeypatch.setattr(module, "FAMILIES", more)
    return family


def test_it_is_found_written_and_built_as_it_says(echoes: Family) -> None:
    horn = writer("cornet-bb")
    assert find_family("echoes") is echoes
    assert task_of(echoes, horn, {}).score.pitches
    assert follows_of(echoes, horn)[0] is AttemptOrder.GROW
    block = block_of("echoes", horn, {})
    assert (block.follow, block.works) == (AttemptOrder.GROW, False)
    assert quietly(Setting("echoes", {}, {}), horn) is not None
    assert held_back(None, "echoes") == ""


def test_it_is_planned_in_its_turn_with_its_reason(echoes: Family) -> None:
    assert echoes in planned_in(Group.SLURS)
    assert "echoes" in families_of(Group.SLURS)
    chosen = {
        exercise.setting.family: exercise
        for exercise in chosen_for(Group.SLURS, known(), Lips.NORMAL)
    }
    assert chosen["echoes"].reason == "Loud, then as an echo."
    level = known(approaches={"dynamics-up": "level"})
    assert "echoes" not in {
        exercise.setting.family for exercise in chosen_for(Group.SLURS, level, Lips.NORMAL)
    }


def test_what_is_of_no_turn_is_not_taken_for_high_work(echoes: Family) -> None:
    assert "own-line" not in families_of(Group.HIGH)
    assert "long-tone" not in families_of(Group.HIGH)


@pytest.mark.parametrize("room", ["session", "coach", "progress", "store", "practice", "server"])
def test_no_room_knows_a_family_by_its_key(room: str) -> None:
    folder = SOURCES / (f"core/{room}" if room in ("session", "coach", "progress") else room)
    # Keys that are also the name of a group, of a field or a word of their own say nothing, and
    # migrations change what was kept by the keys of their time.
    plain = {"breath", "dynamics", "bend", "melody", "siren", "pyramid"}
    keys = "|".join(re.escape(key) for key in FAMILIES if key not in plain)
    named = re.compile(rf'"({keys})"')
    found = [
        f"{path.name}: {match[1]}"
        for path in sorted(folder.rglob("*.py"))
        if path.name not in _CONTENT and path.parent.name != "versions"
        for match in named.finditer(path.read_text("utf-8"))
    ]
    assert found == []
