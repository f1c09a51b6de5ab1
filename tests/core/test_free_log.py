"""What a log of playing freely says: which piece, which drone and which beats there were, and
when."""

from orexis.core.horn.drone import Drone
from orexis.core.score.pulse import Pulse
from orexis.core.session.free_log import (
    DroneSounded,
    FreeEntry,
    PieceOpened,
    PulseGiven,
    SpotMarked,
    beats_given,
    drone_at_end,
    piece_at_end,
    pieces_opened,
)

RATE = 1000
DRONE = Drone(58)


def test_the_last_piece_is_before_the_player_until_it_is_taken_away() -> None:
    log: list[FreeEntry] = [PieceOpened(0, "a"), SpotMarked(10), PieceOpened(2000, "b")]
    assert piece_at_end([]) is None
    assert piece_at_end([SpotMarked(10)]) is None
    assert piece_at_end(log) == "b"
    assert piece_at_end([*log, PieceOpened(3000, None)]) is None


def test_a_piece_lies_there_from_its_entry_to_the_next_or_to_the_end() -> None:
    log: list[FreeEntry] = [
        PieceOpened(1000, "a"),
        SpotMarked(1500),
        PieceOpened(4000, None),
        PieceOpened(6000, "b"),
    ]
    assert pieces_opened(log, RATE, 9.0) == [("a", 1.0, 4.0), ("b", 6.0, 9.0)]
    # What was opened after the end of the sound, or closed at once, was not played.
    assert pieces_opened(log, RATE, 6.0) == [("a", 1.0, 4.0)]
    assert pieces_opened([], RATE, 9.0) == []


def test_the_drone_that_sounds_is_the_last_one() -> None:
    assert drone_at_end([SpotMarked(1)]) is None
    assert drone_at_end([DroneSounded(5, DRONE), SpotMarked(9)]) == DRONE
    assert drone_at_end([DroneSounded(5, DRONE), DroneSounded(9, None)]) is None


def test_beats_begin_with_their_entry_and_end_with_the_next() -> None:
    minute = Pulse(60, ((4,),))
    log: list[FreeEntry] = [
        SpotMarked(0),
        PulseGiven(1000, minute),
        PulseGiven(3500, None),
        PulseGiven(8000, minute),
    ]
    beats = beats_given(log, RATE, 10.0)
    assert beats is not None
    # A beat a second from the first whole second; the one at 4 s is after the stop.
    assert beats.at_s.tolist() == [1.0, 2.0, 3.0, 8.0, 9.0]
    assert beats.silent.tolist() == [False] * 5
    assert beats_given([SpotMarked(0)], RATE, 10.0) is None
    assert beats_given([PulseGiven(0, None)], RATE, 10.0) is None


def test_parts_of_a_beat_are_no_beats() -> None:
    beats = beats_given([PulseGiven(0, Pulse(60, ((4,),), parts=3))], RATE, 2.5)
    assert beats is not None
    assert beats.at_s.tolist() == [0.0, 1.0, 2.0]
