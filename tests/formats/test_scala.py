"""Scala files: read as published, written so that they read the same, refused by line."""

from math import log2

import pytest
from hypothesis import given
from hypothesis import strategies as st

from orexis.core.horn.tuning import JUST_SCALE, Scale
from orexis.formats.scala import ScaleUnreadableError, read_scl, write_scl

QUARTER_COMMA = """! meantone.scl
!
Quarter-comma meantone, some of it
 4
!
 193.15686
 5/4
 3/2 the fifth, pure here
 2
"""


def test_a_scale_is_read_in_cents_and_ratios() -> None:
    scale = read_scl(QUARTER_COMMA)
    assert scale.description == "Quarter-comma meantone, some of it"
    assert scale.degrees_cents == pytest.approx(
        (193.15686, 1200 * log2(5 / 4), 1200 * log2(3 / 2), 1200)
    )


def test_an_empty_description_and_windows_lines_are_fine() -> None:
    scale = read_scl("\ufeff!\r\n\r\n1\r\n1200.\r\n")
    assert scale == Scale("", (1200.0,))


@given(
    st.lists(st.floats(0.001, 2400).map(lambda cents: round(cents, 6)), min_size=1, max_size=60),
    st.text(st.characters(categories=("L", "N", "Zs")), max_size=40),
)
def test_what_is_written_reads_the_same(cents: list[float], description: str) -> None:
    kept = read_scl(write_scl(Scale(description, tuple(cents))))
    assert kept.degrees_cents == pytest.approx(cents)
    assert kept.description == " ".join(description.split())


def test_the_just_scale_goes_out_and_comes_back() -> None:
    assert read_scl(write_scl(JUST_SCALE)).degrees_cents == pytest.approx(JUST_SCALE.degrees_cents)


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("", "no Scala scale"),
        ("only a description", "no Scala scale"),
        ("a\ntwelve\n100.0", "Line 2 should be the number of notes, not “twelve”"),
        ("a\n0\n", "Line 2 should count 1 to 1200"),
        ("a\n99999999999999999999\n2/1", "Line 2 should count"),
        ("! c\na\n2\n!\n100.0\nhigh\n", "Line 6 should be a pitch, as 386.314 or 5/4, not “high”"),
        ("a\n1\n-5/4\n", "Line 3 should be a ratio of numbers above 0"),
        ("a\n1\n5/0\n", "Line 3 should be a ratio"),
        ("a\n1\n.\n", "Line 3 should be a pitch"),
        ("a\n3\n100.0\n2/1\n", "Line 4 is the last note, but line 2 says there are 3"),
        ("a\n1\n-100.0\n", "Line 3 should be the interval at which the scale repeats"),
    ],
)
def test_a_file_that_is_wrong_names_the_line(text: str, message: str) -> None:
    with pytest.raises(ScaleUnreadableError, match=message.replace("(", r"\(")):
        read_scl(text)


@given(st.text(max_size=300))
def test_no_text_breaks_the_reader(text: str) -> None:
    try:
        scale = read_scl(text)
    except ScaleUnreadableError:
        return
    assert scale.degrees_cents
