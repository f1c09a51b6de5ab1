"""Finding a player's range: two minutes with the horn, up and down from the easy note."""

from orexis.core.exercises.book import find_family, refusal_of
from orexis.core.exercises.practised import Value
from orexis.core.exercises.writer import Writer
from orexis.core.session.building import Setting

TITLE = "Finding your range"
"""What the session is called; its takes say how far the player comes."""
_ONCE: dict[str, Value] = {"fails": 2.0, "after_fail": "again", "needed": 1.0, "ends_well": "off"}


def finding_range(writer: Writer) -> list[Setting]:
    """Up by half steps until one does not speak, then down."""
    easy = float(writer.reach.easy)
    up = Setting(
        "chromatic-ladder",
        {"from_midi": easy, "rungs": 1.0, "beats": 1.0},
        {
            **_ONCE,
            **{"follow": "ladder", "rungs": 12.0, "block_rest_s": 0.0},
            **{"probe": "off", "as_played": "off"},
        },
        "Up, a step at a time, as far as it is easy.",
    )
    down = Setting(
        "couplets",
        {"widest": 12.0, "beats": 1.0},
        {"fails": 2.0},
        "And down from the easy note, as far as it is easy.",
    )
    return [_usual_at_least(setting, writer) for setting in (up, down)]


def _usual_at_least(setting: Setting, writer: Writer) -> Setting:
    """The exercise as it is set, or as it is usual where that does not fit the horn."""
    refused = refusal_of(find_family(setting.family), writer, setting.values)
    return Setting(setting.family, {}, {}, setting.why) if refused else setting
