"""How far a pitch lies off, said in one place."""

from orexis.core.horn.words import tuned_words


def test_a_pitch_is_sharp_flat_or_in_tune() -> None:
    assert [tuned_words(cents) for cents in (0.4, 1.2, -1.0, -8, 17.6)] == [
        "in tune",
        "1 cent sharp",
        "1 cent flat",
        "8 cents flat",
        "18 cents sharp",
    ]
