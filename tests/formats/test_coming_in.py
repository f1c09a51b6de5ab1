"""Files from elsewhere: logs, calendars, exercises, reports. What is good is read, what is not is
refused in words, and nothing that anybody sends makes a reader stumble."""

import io
import json
import re
import zipfile
from datetime import UTC, date, datetime
from functools import partial
from typing import Any
from xml.etree import ElementTree

import pytest
from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar

from orexis.core.exercises.book import FAMILIES, task_of
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.horn.setup import Horn
from orexis.formats.bundle import (
    BundleUnreadableError,
    TakeFiles,
    read_bundle,
    report_document,
    write_bundle,
)
from orexis.formats.ical import (
    CalendarEntry,
    CalendarUnreadableError,
    read_dates,
    whole_day,
    written_calendar,
)
from orexis.formats.own import NamedExercise, OwnUnreadableError, own_document, read_own
from orexis.formats.plain_svg import NoPlainDrawingError, drawn_anew
from orexis.formats.practice_log import LogRow, LogUnreadableError, read_log
from orexis.practice.exercises import sheet_music
from tests.formats.any_file import READERS, check_reader
from tests.strange import failing

NOW = datetime(2026, 11, 27, 18, 30, tzinfo=UTC)


def test_a_log_is_read_by_the_names_of_its_columns() -> None:
    content = 'Words,Date,what else,Minutes\r\n\r\n"a, b",2026-11-03,x,45\r\n,2026-11-04,,30\r\n'
    assert read_log(content.encode()) == [
        LogRow(3, "2026-11-03", "45", "a, b"),
        LogRow(4, "2026-11-04", "30", ""),
    ]


@pytest.mark.parametrize("delimiter", [",", ";", "\t"])
def test_a_log_may_come_from_any_spreadsheet(delimiter: str) -> None:
    rows = (("day", "min"), ("3.11.2026", "45"))
    text = "\n".join(delimiter.join(row) for row in rows)
    assert read_log(b"\xef\xbb\xbf" + text.encode()) == [LogRow(2, "3.11.2026", "45", "")]
    # ö as it was written before UTF-8.
    old = delimiter.join(("date", "minutes", "notes")) + "\n" + delimiter.join(("x", "1", "h\xf6r"))
    assert read_log(old.encode("cp1252"))[0].words == "hör"


@pytest.mark.parametrize(
    ("content", "reason"),
    [
        (b"", "no date and no minutes"),
        (b"date,words\n2026-11-03,x", "no minutes"),
        (b'date,minutes\n"2026', "cannot be read as CSV"),
        (b"date,minutes\n" + 5001 * b"2026-11-03,1\n", "up to 5000 rows"),
        (b"PK\x03\x04\0\0", "no text"),
    ],
)
def test_what_is_no_log_is_refused(content: bytes, reason: str) -> None:
    with pytest.raises(LogUnreadableError, match=reason):
        read_log(content)


def test_a_calendar_is_read_by_another_reader() -> None:
    entries = [
        whole_day("plan-1", date(2026, 11, 27), "To practise: 40 min", "Long tone, 8 min\nrest; ö"),
        CalendarEntry("s1", NOW, NOW.replace(hour=19), "Practised: After the rehearsal"),
    ]
    written_out = written_calendar("Maren's practice", entries, NOW)
    calendar: Any = Calendar.from_ical(written_out)
    plan, session = calendar.walk("VEVENT")
    assert (plan["uid"], str(plan["summary"])) == ("plan-1@orexis", "To practise: 40 min")
    assert (plan["dtstart"].dt, plan["dtend"].dt) == (date(2026, 11, 27), date(2026, 11, 28))
    assert str(plan["description"]) == "Long tone, 8 min\nrest; ö"
    assert (session["dtstart"].dt, session["dtend"].dt) == (NOW, NOW.replace(hour=19))
    # What was written comes in again.
    found = read_dates(written_out)
    assert [(found_date.on, found_date.title) for found_date in found] == [
        (date(2026, 11, 27), "To practise: 40 min"),
        (NOW.astimezone().date(), "Practised: After the rehearsal"),
    ]


def test_what_is_no_calendar_is_refused() -> None:
    for content in (b"", b"not a calendar", b"BEGIN:VCALENDAR\nBEGIN:VEVENT", b"\xff\xfe\0"):
        try:
            assert read_dates(content) == []
        except CalendarUnreadableError as error:
            assert "iCalendar" in str(error)  # noqa: PT017 - empty ones hold nothing, others are none


def test_exercises_go_out_and_come_in_as_they_were() -> None:
    kept = [NamedExercise("Morning", "long-tone", {"from_midi": "58", "hold_s": "8"})]
    document = own_document("Maren", kept)
    assert document["schema"] == "orexis.own/1"
    assert read_own(json.dumps(document).encode()) == kept


@pytest.mark.parametrize(
    "content",
    [
        b"[",
        b"[]",
        b'{"schema": "orexis.own/2", "exercises": []}',
        b'{"schema": "orexis.own/1", "exercises": {}}',
        b'{"schema": "orexis.own/1", "exercises": [{"name": 1, "family": "x", "parameters": {}}]}',
        b'{"schema": "orexis.own/1", "exercises": [{"name": "a", "parameters": {"a": 1}}]}',
        100_000 * b"[",
    ],
)
def test_what_holds_no_exercises_is_refused(content: bytes) -> None:
    with pytest.raises(OwnUnreadableError):
        read_own(content)


def bundle(**files: bytes) -> bytes:
    """A zip of some files, `_` for `.` in their names."""
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w", zipfile.ZIP_DEFLATED) as file:
        for name, said in files.items():
            file.writestr(name.replace("_", "."), said)
    return content.getvalue()


def written(report: dict[str, object]) -> bytes:
    content = io.BytesIO()
    takes = {"ab": TakeFiles(b"fLaC of it", b"<score/>"), "cd": TakeFiles(b"fLaC too", None)}
    write_bundle(content, report_document(report), "<html>", {"days.csv": ["a", "\nö"]}, takes)
    return content.getvalue()


def test_a_report_goes_out_and_comes_in_as_it_was() -> None:
    content = written({"player": "Maren", "words": "höher"})
    with zipfile.ZipFile(io.BytesIO(content)) as file:
        assert file.testzip() is None
        assert file.namelist() == [
            "index.html",
            "report.json",
            "days.csv",
            "takes/ab.flac",
            "takes/ab.musicxml",
            "takes/cd.flac",
        ]
        assert file.read("days.csv").decode() == "a\nö"
    found = read_bundle(content)
    assert found.report == {"player": "Maren", "words": "höher"}
    assert found.sounds == {"ab": b"fLaC of it", "cd": b"fLaC too"}


@pytest.mark.parametrize(
    ("content", "reason"),
    [
        (b"", "no zip"),
        (b"PK\x03\x04 and so on", "no zip"),
        (bundle(index_html=b"x"), "no report.json"),
        (bundle(report_json=b"{"), "cannot be read"),
        (bundle(report_json=b"[]"), "orexis.report/2"),
        (bundle(report_json=b'{"schema": "orexis.report/3"}'), "later Orexis"),
        (bundle(report_json=b'{"schema": "' + 20_000_000 * b" " + b'"}'), "too large"),
        (
            bundle(
                report_json=b'{"schema": "orexis.report/2"}',
                **{f"takes/{n:02x}_flac": b"" for n in range(21)},
            ),
            "more takes",
        ),
        (
            bundle(
                report_json=b'{"schema": "orexis.report/2"}',
                **{"takes/ab_flac": 33 * 1024 * 1024 * b"\0"},
            ),
            "too large",
        ),
    ],
)
def test_what_is_no_report_is_refused(content: bytes, reason: str) -> None:
    with pytest.raises(BundleUnreadableError, match=reason):
        read_bundle(content)


def test_a_zip_with_no_end_of_files_is_refused_before_they_are_listed() -> None:
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w") as file:
        for number in range(6000):
            file.writestr(f"{number:060}", b"")
    with pytest.raises(BundleUnreadableError, match="more files than"):
        read_bundle(content.getvalue())
    few = io.BytesIO()
    with zipfile.ZipFile(few, "w") as file:
        file.writestr("report.json", b"{}")
        for number in range(1000):
            file.writestr(str(number), b"")
    with pytest.raises(BundleUnreadableError, match="more files than"):
        read_bundle(few.getvalue())


def test_a_record_in_the_middle_does_not_hide_how_many_files_there_are() -> None:
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w") as file:
        for number in range(6000):
            file.writestr(f"{number:060}", b"")
    whole = content.getvalue()
    # The list begins at an offset whose four bytes spell the record that ends a zip.
    begins = int.from_bytes(b"PK\x05\x06", "little")
    end = whole[-22:-6] + begins.to_bytes(4, "little") + whole[-2:]
    with pytest.raises(BundleUnreadableError, match="more files than"):
        read_bundle(whole[:-22] + end)
    # And one whose comment holds a record that says there is little in it.
    small = b"PK\x05\x06" + bytes(18)
    with pytest.raises(BundleUnreadableError):
        read_bundle(whole[:-2] + len(small).to_bytes(2, "little") + small)


def test_a_file_of_a_report_is_taken_by_its_place_alone() -> None:
    strange = bundle(
        report_json=b'{"schema": "orexis.report/2"}',
        **{"../../takes/ab_flac": b"x", "takes/../ab_flac": b"x", "takes/AB_flac": b"x"},
    )
    assert read_bundle(strange).sounds == {}


SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><g id="step-1">{}</g></svg>'


def drawn(more: str) -> str:
    return drawn_anew(SVG.format(more))


@pytest.mark.parametrize("family", ["pyramid", "glide-ladder", "dynamics", "bend", "melody"])
def test_what_is_engraved_here_looks_the_same_drawn_anew(family: str) -> None:
    horn = Horn(INSTRUMENTS["trombone-tenor"])
    task = task_of(FAMILIES[family], Writer(horn, Reach.usual(horn.instrument)), {})
    svg = sheet_music(task, horn, horn.instrument.notation(NoteView.SOUNDING, Clef.BASS))
    before, after = (
        [
            (
                element.tag,
                {k: v for k, v in element.items() if k not in ("class", "id", "version", LANG)},
            )
            for element in ElementTree.fromstring(text).iter()
        ]
        for text in (svg, drawn_anew(svg))
    )
    assert after == before
    # Every note keeps the number of its step.
    steps = re.findall(r'id="(step-\d+)"', svg)
    assert len(steps) > 3
    assert re.findall(r'id="(step-\d+)"', drawn_anew(svg)) == steps


LANG = "{http://www.w3.org/XML/1998/namespace}lang"


@pytest.mark.parametrize(
    "more",
    [
        "<script>alert(1)</script>",
        '<use href="data:image/svg+xml,x#a"/>',
        '<use xmlns:x="http://www.w3.org/1999/xlink" x:href="https://there.invalid/#a"/>',
        '<a href="#x">x</a>',
        "<foreignObject/>",
        '<h1 xmlns="http://www.w3.org/1999/xhtml">x</h1>',
        "<animate/>",
        "<style>x</style>",
        "<image/>",
        "<",
        "<text>&unknown;</text>",
        "<g>" * 50 + "</g>" * 50,
        "<rect/>" * 7000,
        '<g id="a"><rect/></g>' + '<use href="#a"/>' * 4000,
        # Copies of copies: eight of eight of eight.
        '<g id="a"><rect/></g><g id="b">' + 8 * '<use href="#a"/>' + "</g>"
        '<g id="c">' + 8 * '<use href="#b"/>' + "</g>" + 8 * '<use href="#c"/>',
        '<g id="a">' + 20 * "<rect/>" + '</g><use href="#a"/>',
        "x" * 2_000_000,
    ],
)
def test_what_is_more_than_a_drawing_is_refused(more: str) -> None:
    with pytest.raises(NoPlainDrawingError):
        drawn(more)


@pytest.mark.parametrize(
    "text",
    [
        "<!DOCTYPE svg [<!ENTITY a 'b'>]>" + SVG.format("&a;"),
        '<!DOCTYPE svg SYSTEM "file:///etc/hosts">' + SVG.format(""),
        "<html xmlns='http://www.w3.org/1999/xhtml'/>",
        "<svg/>",
    ],
)
def test_what_is_no_svg_is_refused(text: str) -> None:
    with pytest.raises(NoPlainDrawingError):
        drawn_anew(text)


@pytest.mark.parametrize(
    "more",
    [
        '<rect onclick="alert(1)" x="1"/>',
        '<rect style="fill: url(x)" x="1"/>',
        '<rect fill="url(https://there.invalid)" x="1"/>',
        '<rect class="fixed inset-0" x="1"/>',
        '<rect id="app" x="1"/>',
        '<rect transform="translate(1e999)" x="1"/>',
        '<rect xmlns:x="https://there.invalid" x:href="#a" x="1"/>',
        '<?xml-foo ><meta http-equiv="refresh" content="0; url=/api"/>?><rect x="1"/>',
        '<!-- <script>x</script> --><rect x="1"/>',
    ],
)
def test_what_could_act_in_a_page_is_not_taken_over(more: str) -> None:
    assert drawn(more) == drawn('<rect x="1"/>')


def test_text_stays_text() -> None:
    assert "<text>&lt;b&gt; sol &amp;</text>" in drawn("<text>&lt;b&gt; sol &amp;</text>")


@given(st.binary(max_size=400) | st.text(max_size=400).map(str.encode))
def test_no_bytes_make_a_reader_stumble(content: bytes) -> None:
    for read, refuses in (
        (read_log, LogUnreadableError),
        (read_dates, CalendarUnreadableError),
        (read_own, OwnUnreadableError),
        (read_bundle, BundleUnreadableError),
    ):
        try:
            read(content)
        except refuses as error:
            assert str(error)  # noqa: PT017 - it may be read as well


LOG = b'date,minutes,words\n2026-11-03,45,long tones\n03.11.2026,1:15,"a, b"\n'
ICS = written_calendar("x", [whole_day("a", date(2026, 12, 12), "Harbour concert")], NOW)
OWN = json.dumps(own_document("x", [NamedExercise("a", "long-tone", {"hold_s": "4"})])).encode()
ZIP = written({"player": "Maren"})


@given(
    st.sampled_from(
        [
            (LOG, read_log, LogUnreadableError),
            (ICS, read_dates, CalendarUnreadableError),
            (OWN, read_own, OwnUnreadableError),
            (ZIP, read_bundle, BundleUnreadableError),
        ]
    ),
    st.lists(st.tuples(st.integers(0, 2000), st.binary(max_size=3)), max_size=6),
)
def test_a_file_that_was_damaged_on_the_way_is_read_or_refused(
    file: tuple[bytes, object, type[ValueError]], cuts: list[tuple[int, bytes]]
) -> None:
    content, read, refuses = file
    for at, put in cuts:
        at %= len(content) + 1
        content = content[:at] + put + content[at + len(put) + 1 :]
    try:
        read(content)  # type: ignore[operator]
    except refuses as error:
        assert str(error)  # noqa: PT017 - it may be read as well


@pytest.mark.parametrize("first", range(0, 200, 50))
@pytest.mark.parametrize("name", READERS)
def test_a_file_made_strange_is_read_or_refused(name: str, first: int) -> None:
    assert failing(partial(check_reader, name), range(first, first + 50)) == []
