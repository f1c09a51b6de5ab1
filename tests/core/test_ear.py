"""Ear against meter."""

from orexis.core.judging.ear import Rated, Rating, agreement


def test_the_upper_two_words_mean_going_on() -> None:
    assert [rating.goes_on for rating in Rating] == [False, False, True, True]
    assert [rating.word for rating in Rating] == ["rough", "uneven", "good", "just right"]


def test_too_few_takes_are_said_to_be_too_few() -> None:
    said = agreement([Rated(Rating.GOOD, True)] * 4)
    assert (said.rated, said.agreed) == (4, 4)
    assert said.words == "Ear against meter: rate 1 more take to see it."


def test_a_kind_ear_and_a_harsh_one_are_told_apart() -> None:
    kind = [Rated(Rating.GOOD, False)] * 3 + [Rated(Rating.ROUGH, True), Rated(Rating.GOOD, True)]
    said = agreement(kind)
    assert (said.agreed, said.too_kind, said.too_harsh) == (1, 3, 1)
    assert said.words.endswith("mostly too kind (3).")
    harsh = agreement([Rated(Rating.UNEVEN, True)] * 5)
    assert harsh.words.endswith("agree on 0 of 5 takes. When not, you are mostly too harsh (5).")
