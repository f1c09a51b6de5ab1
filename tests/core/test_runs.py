"""Runs are where something holds, by their first frame and the one after their last."""

import itertools

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from orexis.core.listening.notes.runs import runs


def test_each_run_is_told_in_order() -> None:
    assert runs(np.array([True, True, False, True, False, False, True])) == [(0, 2), (3, 4), (6, 7)]
    assert runs(np.array([False, False])) == []
    assert runs(np.array([], dtype=bool)) == []


@given(st.lists(st.booleans(), max_size=60))
def test_runs_are_where_it_holds_and_nothing_else(holds: list[bool]) -> None:
    found = runs(np.array(holds, dtype=bool))
    inside = [at for first, last in found for at in range(first, last)]
    assert inside == [at for at, one in enumerate(holds) if one]
    assert all(before[1] < after[0] for before, after in itertools.pairwise(found))
