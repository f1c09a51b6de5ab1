"""How notes stand with a player, told from dates and standards made by hand."""

from datetime import date, timedelta

import pytest

from orexis.core.coach.standing import NoteOutcome, Standing, standing_of
from orexis.core.judging.standard import Standard

TODAY = date(2026, 5, 30)


def heard(
    days_ago: int,
    sounded_s: float = 3.0,
    passed: bool = True,
    level: Standard = Standard.NORMAL,
    cold: bool = False,
) -> NoteOutcome:
    day = TODAY - timedelta(days=days_ago)
    return NoteOutcome(day, sounded_s, min(sounded_s, 2.5), passed, level, cold)


THREE_DAYS = [heard(13), heard(6), heard(0)]


@pytest.mark.parametrize(
    ("times", "standing"),
    [
        ([], Standing.NEW),
        ([heard(1, 0.0, passed=False)], Standing.ATTEMPTED),
        ([heard(1, 0.29, passed=False)], Standing.ATTEMPTED),
        ([heard(1, 0.3, passed=False)], Standing.TOUCHED),
        # It passed, but was not held for two seconds.
        ([heard(1, 1.9)], Standing.TOUCHED),
        ([heard(1, level=Standard.KIND)], Standing.HELD),
        (THREE_DAYS, Standing.HELD),
        ([*THREE_DAYS, heard(2, cold=True)], Standing.SECURE),
        # Three times on one day are one day; the fourteenth day ago is one too many.
        ([heard(0), heard(0), heard(0, cold=True)], Standing.HELD),
        ([heard(14), heard(6), heard(0, cold=True)], Standing.HELD),
        # A kind standard makes nothing secure, nor does a pick that failed.
        ([*THREE_DAYS, heard(1, level=Standard.KIND, cold=True)], Standing.HELD),
        ([*THREE_DAYS, heard(1, passed=False, cold=True)], Standing.HELD),
        ([heard(30)], Standing.HELD),
        ([heard(31)], Standing.FADED),
        # What did not speak since keeps nothing from fading.
        ([heard(31), heard(1, 0.0, passed=False)], Standing.FADED),
    ],
)
def test_a_note_stands_where_its_takes_put_it(times: list[NoteOutcome], standing: Standing) -> None:
    assert standing_of(times, TODAY) is standing
