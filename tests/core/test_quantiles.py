"""Percentiles agree with the textbook and with numpy's."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from orexis.core.listening.notes.quantiles import median, percentiles

NUMBERS = st.lists(st.floats(-1e6, 1e6), min_size=1, max_size=40)


def test_the_median_is_the_middle_or_half_way() -> None:
    assert median(np.array([3.0, 1.0, 2.0])) == 2
    assert median(np.array([4.0, 1.0, 2.0, 3.0])) == 2.5
    assert percentiles(np.array([0.0, 10.0]), 16, 84) == pytest.approx((1.6, 8.4))


@given(NUMBERS, st.floats(0, 100))
def test_any_percentile_is_numpys(numbers: list[float], share: float) -> None:
    values = np.array(numbers)
    assert percentiles(values, share)[0] == pytest.approx(
        float(np.percentile(values, share)), rel=1e-9, abs=1e-6
    )


def test_nothing_has_no_median() -> None:
    with pytest.raises(IndexError):
        median(np.empty(0))
