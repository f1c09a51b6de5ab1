"""A small part of the truth suite: every fault the stand-in makes is told of, and none that it
does not make. `make bench` holds the whole of it to its shares."""

import functools

import pytest
from bench.truth import CLEAN, KINDS, NOT_INVENTED_IN, RATE, Place, places, played

from orexis.core.listening.analysis import Analysis, analyse

# One horn high and soft, one in the middle, one low and loud.
PLACES = [place for number, place in enumerate(places()) if number in (6, 22, 53)]


@functools.cache
def heard(name: str, place: Place) -> Analysis:
    """What is heard in some clean music."""
    return analyse([played(dict(CLEAN)[name], place)], RATE)


@pytest.mark.one_in(3)
@pytest.mark.parametrize("kind", KINDS)
def test_a_fault_that_is_made_is_told_of_and_no_other(kind: str) -> None:
    build, told = KINDS[kind]
    for place in PLACES:
        assert told(analyse([played(build, place)], RATE), place), f"missed at {place}"
        for name, _ in CLEAN:
            if name not in NOT_INVENTED_IN.get(kind, ()):
                assert not told(heard(name, place), place), f"invented in {name} at {place}"
