"""What came to the demo band from elsewhere: a teacher's words, and rehearsals on paper."""

from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from orexis.core.progress.typed import WrittenEntry
from orexis.practice.words_back import Marked, ReportRemarks, keep_words
from orexis.store.bookmarks import add_bookmark
from orexis.store.models import Player, Take, TakeSound
from orexis.store.typed import add_typed

_TEACHER = "Ruven"
_REHEARSALS_BACK = (3, 10, 17, 24)


def bring(session: Session, player: Player, now: datetime) -> None:
    """Lets a player have had a report answered, a spot bookmarked, and rehearsals written down."""
    heard = session.scalars(
        select(Take)
        .join(TakeSound, TakeSound.take_id == Take.id)
        .where(Take.player_id == player.id)
        .order_by(Take.started_at.desc())
    ).all()
    if len(heard) > 1:
        last, before = heard[0], heard[1]
        add_bookmark(session, before, min(1.5, before.duration_s), "this is the sound I want")
        words = "Better than in spring. Leave the top alone on the day after a concert."
        mark = Marked(last.id, min(1.0, last.duration_s), "breathe lower, then begin")
        keep_words(session, player, ReportRemarks(_TEACHER, words, (mark,)), now)
    rehearsed = (now.date() - timedelta(days=back) for back in _REHEARSALS_BACK)
    add_typed(
        session,
        player,
        [WrittenEntry(day, 90.0, "rehearsal for the centenary") for day in rehearsed],
    )
