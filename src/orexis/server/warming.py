"""What takes a while the first time, done before anybody waits for it."""

import logging
import threading
from datetime import date

from orexis.core.coach.book_today import book_of
from orexis.core.compiled import progress, run_as_written
from orexis.core.exercises.book import FAMILIES, task_of
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.judging.standard import Standard
from orexis.core.session.stand import Stand
from orexis.practice.coaching import known_of
from orexis.practice.progress import changes_of, range_of
from orexis.standin.performance import perform
from orexis.standin.score import Change, ScoreNote
from orexis.standin.tone import MIDDLE
from orexis.store.database import Database
from orexis.store.players import all_players

log = logging.getLogger(__name__)

_RATE, _CHUNK = 48_000, 1024
_SLUR = Change("slur")


class Listening:
    """Whether listening is ready, and how long that still takes."""

    def __init__(self) -> None:
        self._ready = threading.Event()

    @property
    def ready(self) -> bool:
        """Whether sound can be listened to at once."""
        return self._ready.is_set()

    @property
    def left_s(self) -> float | None:
        """About how many seconds it still takes, `None` while that is not known."""
        return progress.left_s

    def get_ready(self, *, waits: bool = False) -> None:
        """Listens once, in a thread that nobody waits for unless one `waits`: a server can be
        stopped meanwhile."""
        thread = threading.Thread(target=self._listen, name="ready to listen", daemon=True)
        thread.start()
        if waits:
            thread.join()

    def need_not(self) -> None:
        """Takes it for ready: what it needs is made when it is first listened."""
        self._ready.set()

    def _listen(self) -> None:
        try:
            listen_once()
        except Exception:
            log.exception("What listening needs could not be compiled.")
            run_as_written()
        finally:
            self._ready.set()


def listen_once() -> None:
    """Listens to a few notes, as the Stand does. What of that is compiled is loaded then, and
    made where it has not been yet."""
    horn = Horn(INSTRUMENTS["trombone-tenor"])
    task = task_of(FAMILIES["long-tone"], Writer(horn, Reach.usual(horn.instrument)), {})
    stand = Stand(task, horn, Standard.NORMAL, _RATE)
    # A pedal, a slur up and down, a glide, and a rough, soft note: every window is looked at.
    notes = [ScoreNote(34, 0.6, -20.0)]
    notes += [ScoreNote(midi, 0.5, -20.0, reached=_SLUR) for midi in (46, 58, 53)]
    notes += [ScoreNote(56, 0.4, -20.0, reached=Change("glide", 0.4, dip_db=0.0))]
    notes += [ScoreNote(41, 0.6, -40.0, 4.0, reached=Change("breath"))]
    sound = perform(tuple(notes), MIDDLE, _RATE, seed=1).samples
    for at in range(0, len(sound), _CHUNK):
        stand.feed(sound[at : at + _CHUNK])
        _ = stand.early
    stand.finish()


def look_back(database: Database, today: date) -> None:
    """Reads every player's weeks, so that the first who looks at them does not wait; what they
    come to is remembered."""
    try:
        with database.session() as session:
            players = list(all_players(session))
            # Today and the book are looked at first, whoever plays.
            for player in players:
                book_of(known_of(session, player, today))
            for player in players:
                range_of(session, player, today)
                changes_of(session, player, today)
    except Exception:
        # Whoever looks at them is told what is wrong.
        log.exception("The weeks could not be read ahead; they are when they are looked at.")


if __name__ == "__main__":
    Listening().get_ready(waits=True)
