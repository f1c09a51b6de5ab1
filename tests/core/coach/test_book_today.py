"""The book as a player finds it on a day, from pasts made by hand."""

from orexis.core.coach.about import Lips
from orexis.core.coach.book_today import BookLine, book_of
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.limits import limits_for
from orexis.core.exercises.family import Group
from tests.core.coach.days import known, regular, tried


def line(key: str, known: PlayerFacts, lips: Lips = Lips.NORMAL) -> BookLine:
    lines = [line for _, lines in book_of(known, lips) for line in lines]
    (found,) = (line for line in lines if line.family.key == key)
    return found


def test_a_line_says_where_one_is_when_it_was_played_and_what_it_needs() -> None:
    found = line("long-tone", known(*regular(), tried(3, 65, family="long-tone")))
    assert found.place.startswith("step ")
    assert found.played == "played yesterday"
    assert found.needs.startswith("up to ")
    assert line("siren", known(*regular())).needs.startswith("on the mouthpiece, up to ")
    assert line("siren", known(*regular())).played == "not played in the last six weeks"
    breath = line("breath", known(*regular()))
    assert (breath.needs, breath.register, breath.not_today) == ("without the horn", None, "")
    # Nobody hears whether one breathes.
    assert breath.played == ""


def test_what_goes_past_today_says_so_and_comes_after_what_does_not() -> None:
    one = known(*regular())
    top = limits_for(one, Lips.TIRED)
    groups = dict(book_of(one, Lips.TIRED))
    late = [line.not_today != "" for line in groups[Group.SLURS] if not line.refused]
    assert late == sorted(late)
    assert any(late)
    name = one.writer.name
    (pyramid,) = (x for x in groups[Group.SLURS] if x.family.key == "pyramid")
    assert pyramid.not_today.endswith(f"; today ends at {name(top.climbing)}.")


def test_what_the_horn_has_not_comes_last_with_its_reason() -> None:
    high = dict(book_of(known(*regular())))[Group.HIGH]
    assert {line.family.key for line in high[-2:]} == {"glide-ladder", "expanding-glide"}
    assert all("Valves cannot glide" in line.refused for line in high[-2:])


def test_a_line_is_set_as_its_step_is_and_says_which_one_of_how_many() -> None:
    one = known(*regular())
    lines = [line for _, found in book_of(one) for line in found if not line.refused]
    assert len(lines) > 20
    without = 0
    for line in lines:
        place = one.on_path(line.family)
        if place is None:
            without += 1
            assert (line.place, dict(line.values)) == ("", {})
        else:
            assert line.place == f"step {place.at + 1} of {len(place.steps)}"
            assert dict(line.values) in (dict(place.now.values), {})
    assert 0 < without < len(lines)
