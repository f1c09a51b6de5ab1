"""One thing, one name: texts that a player can meet use the terms of the job, and no others."""

import re
from functools import cache

import pytest
from tools.words import Text, texts

from orexis.core.exercises.family import Aim
from orexis.core.judging.aim_words import WORDS
from orexis.core.judging.aims import RULES
from orexis.core.judging.attempts import AimResult
from orexis.core.judging.words import sentence

SAYS = {
    r"\bgates?\b": "standard",
    r"\brungs?\b": "step",
    r"\bschools?\b": "approach",
    r"\btries\b|\btry [\d…]": "attempt",
    r"\b(?:a|an|each|this|every|next|last|the|one|no|per|after|first) try\b": "attempt",
    r"\bslot slurs?\b|\bslot-slur\b": "lip slur",
    r"\b(?:from|low|high|top|many|of|first|second|third|fourth|fifth) slots?\b|\bslots? [\d…]": (
        "partial, where it is a number"
    ),
    r"\bre-?(?:centre|set) note|\bre-set\b": "easy low note, reset",
    r"\bon the face\b": "playing time",
    r"\bpins?\b|\bpinned\b": "bookmark",
    r"\bbreath starts?\b|\bstart(?:s|ed)? (?:with|on) air\b": "air attack",
    r"\bthrough the lengths\b|\blengths? alone\b": "fingerings or positions",
    r"\blet go of\b": "delete",
    r"\bhigh cents\b|\blow cents\b|\bcents (?:high|low)\b": "sharp, flat",
}
"""What is not said, and what is said instead."""


@cache
def every_text() -> list[Text]:
    return texts()


def found(pattern: str) -> list[Text]:
    return [text for text in every_text() if re.search(pattern, text.words, re.IGNORECASE)]


@pytest.mark.parametrize("pattern", SAYS)
def test_no_text_says_what_has_another_name(pattern: str) -> None:
    wrong = [f"{text.path}:{text.line}: {text.words}" for text in found(pattern)]
    assert not wrong, f"Say {SAYS[pattern]}:\n" + "\n".join(wrong)


def test_texts_are_gathered_from_every_room() -> None:
    rooms = {text.room for text in every_text()}
    assert {"core/coach", "core/judging", "core/session", "cli/simulate.py", "server/live"} <= rooms
    assert {"stand", "today", "takes", "progress", "horn", "book"} <= {
        room.split("/")[-1].removeprefix("src/") for room in rooms
    } | {room.split("/")[0] for room in rooms}
    words = {text.words for text in every_text()}
    # One of a sentence, one of an attribute, one of what stands between tags, one of a parameter.
    assert "Neither note was clean, so … waits for another day." in words
    assert "Approaches" in words
    assert "from partial" in words


def test_no_text_shouts_or_counts_one_as_many() -> None:
    many = re.compile(r"[a-z]!(?!=)|\b1 (?:notes|days|minutes|steps|half steps|attempts)\b")
    wrong = [
        f"{text.path}:{text.line}: {text.words}" for text in every_text() if many.search(text.words)
    ]
    assert not wrong, "\n".join(wrong)


UNITS = {"cents": 120, "dB": 12, "ms": 250, "%": 60, "s": 3.94, "of 100": 62, "half steps short": 7}
"""Numbers as large as they come, by their unit; other rules count."""


@pytest.mark.parametrize("aim", Aim)
def test_a_verdict_is_read_from_afar_in_the_middle_of_a_breath(aim: Aim) -> None:
    measured = UNITS.get(RULES[aim].unit, 3)
    for sign in (1, -1) if RULES[aim].unit in ("cents", "dB") else (1,):
        limit = 6 if RULES[aim].unit == "dB" else 15
        missed = AimResult(aim, sign * measured, limit, passed=False)
        for at in ("", "B♭4", "B♭4 (2nd)"):
            headline = sentence(WORDS[aim].missed(missed, at))
            assert len(headline) <= 60, headline
        advice = WORDS[aim].advice(missed)
        assert len(advice) <= 80, advice
