"""A tape keeps what was fed and not yet let go of, under its numbers."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from orexis.core.listening.tracking.tape import Tape


@given(st.lists(st.tuples(st.integers(0, 400), st.integers(0, 300)), max_size=40))
def test_it_holds_every_sample_from_where_it_was_let_go(steps: list[tuple[int, int]]) -> None:
    tape, fed, kept_from = Tape(-20, 20), 0, -20
    for size, gone in steps:
        tape.feed(np.arange(fed, fed + size, dtype=np.float64))
        fed += size
        kept_from = min(kept_from + gone, fed)
        tape.forget(kept_from)
        assert (tape.first, tape.end, len(tape)) == (kept_from, fed, fed - kept_from)
        # Every sample is its own number; what came before the first is silence.
        assert tape.samples.tolist() == [max(at, 0) for at in range(kept_from, fed)]


def test_what_was_let_go_stays_so() -> None:
    tape = Tape(0, 0)
    tape.feed(np.arange(10.0))
    tape.forget(6)
    tape.forget(2)
    assert tape.samples.tolist() == [6, 7, 8, 9]
