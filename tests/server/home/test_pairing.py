"""A code holds for two minutes, one device and five attempts; then pairing waits, longer each
time."""

import pytest

from orexis.server.home.pairing import (
    NoCodeError,
    Pairing,
    PairingWaitsError,
    WrongCodeError,
)


class Clock:
    def __init__(self) -> None:
        self.now = 1000.0

    def __call__(self) -> float:
        return self.now


def other_than(digits: str) -> str:
    return f"{(int(digits) + 1) % 1_000_000:06d}"


def wrong(pairing: Pairing, times: int) -> None:
    code = pairing.code
    assert code is not None
    for _ in range(times):
        with pytest.raises((WrongCodeError, PairingWaitsError)):
            pairing.redeem(other_than(code.digits))


def test_a_code_is_six_digits_and_holds_once() -> None:
    pairing = Pairing(Clock())
    code = pairing.show(may_play=True)
    assert (len(code.digits), code.digits.isdecimal(), code.left_s) == (6, True, 120.0)
    assert pairing.redeem(code.digits) is True
    with pytest.raises(NoCodeError):
        pairing.redeem(code.digits)


def test_codes_differ_and_say_what_their_device_may_do() -> None:
    pairing = Pairing(Clock())
    codes = {pairing.show(may_play=False).digits for _ in range(20)}
    # Two of twenty are the same in one of 5000 runs, three never.
    assert len(codes) >= 19
    code = pairing.code
    assert code is not None
    assert pairing.redeem(code.digits) is False


def test_the_one_before_does_not_hold_any_more() -> None:
    pairing = Pairing(Clock())
    first, second = pairing.show(may_play=True), pairing.show(may_play=True)
    if first.digits != second.digits:
        with pytest.raises(WrongCodeError):
            pairing.redeem(first.digits)
    pairing.hide()
    with pytest.raises(NoCodeError):
        pairing.redeem(second.digits)


@pytest.mark.parametrize(("after_s", "holds"), [(119.9, True), (120.0, False)])
def test_it_holds_for_two_minutes(after_s: float, holds: bool) -> None:
    clock = Clock()
    pairing = Pairing(clock)
    code = pairing.show(may_play=True)
    clock.now += after_s
    assert (pairing.code is not None) is holds
    if holds:
        pairing.redeem(code.digits)
    else:
        with pytest.raises(NoCodeError):
            pairing.redeem(code.digits)


def test_four_wrong_ones_are_told_how_many_are_left() -> None:
    pairing = Pairing(Clock())
    digits = pairing.show(may_play=True).digits
    for left in (4, 3, 2, 1):
        with pytest.raises(WrongCodeError) as told:
            pairing.redeem(other_than(digits))
        assert told.value.left == left
    assert pairing.redeem(digits) is True


def test_the_fifth_wrong_one_voids_it_and_pauses_double_up_to_an_hour() -> None:
    clock = Clock()
    pairing = Pairing(clock)
    pauses: list[float] = []
    for _ in range(9):
        digits = pairing.show(may_play=True).digits
        wrong(pairing, 5)
        pauses.append(pairing.waits_s)
        assert pairing.code is None
        # The right one comes too late, and no other can be had.
        with pytest.raises(PairingWaitsError):
            pairing.redeem(digits)
        with pytest.raises(PairingWaitsError):
            pairing.show(may_play=True)
        clock.now += pairing.waits_s
    assert pauses == [30.0, 60.0, 120.0, 240.0, 480.0, 960.0, 1920.0, 3600.0, 3600.0]


def test_a_device_that_was_paired_makes_pauses_short_again() -> None:
    clock = Clock()
    pairing = Pairing(clock)
    for _ in range(2):
        pairing.show(may_play=True)
        wrong(pairing, 5)
        clock.now += pairing.waits_s
    pairing.redeem(pairing.show(may_play=True).digits)
    pairing.show(may_play=True)
    wrong(pairing, 5)
    assert pairing.waits_s == 30.0


def test_what_is_typed_while_no_code_stands_there_counts_for_nothing() -> None:
    pairing = Pairing(Clock())
    for _ in range(20):
        with pytest.raises(NoCodeError):
            pairing.redeem("123456")
    assert pairing.show(may_play=True).left_s == 120.0
