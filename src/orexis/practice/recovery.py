"""Sessions that nobody came back to, and sound that cannot be judged any more."""

from collections.abc import Callable
from datetime import UTC, datetime, timedelta

from orexis.core.listening.tracking.frames import HOP_S
from orexis.core.session.plan import SessionKind
from orexis.formats.audio import BYTES_PER_SAMPLE
from orexis.practice.beginning import ExerciseUnfitError, NoSuchPlayerError
from orexis.practice.free import FreePlaying
from orexis.practice.live_sound import LiveSound
from orexis.practice.plans import SessionSetup
from orexis.practice.sessions import Session
from orexis.practice.unclaimed import discard_old
from orexis.practice.unjudged import listen_to_unjudged
from orexis.store.database import Database
from orexis.store.horns import horn_of
from orexis.store.models import Player
from orexis.store.recordings import save_recording
from orexis.store.spool import Spool
from orexis.store.takes import judged_until


def recover(
    database: Database, spool: Spool, begun: Callable[[LiveSound], None] = lambda session: None
) -> None:
    """Lets go of a session nobody came back to: its takes are kept, or its sound as a recording.
    One with a plan can still be gone on with.

    `begun` is given the session before its replay. Raises `OSError` (a full disk) and what the
    database does; the spool then stays. One that makes no sense is set aside.
    """
    try:
        session = live_sound(database, spool)
    except ExerciseUnfitError as error:
        keep_unjudged(database, spool, str(error))
        return
    except NoSuchPlayerError:
        spool.set_aside("its player is not there any more")
        return
    except (ValueError, LookupError, TypeError) as error:
        spool.set_aside(str(error))
        return
    if isinstance(session, FreePlaying) and session.player is None:
        # It waits for somebody to say that it was theirs.
        session.pause()
        discard_old(database, spool, datetime.now(UTC))
        return
    try:
        begun(session)
        session.replay()
        session.end()
    finally:
        session.pause()


def live_sound(database: Database, spool: Spool) -> Session | FreePlaying:
    """What a spool is the sound of. Raises as both of them do."""
    if SessionSetup.read(spool.hello).kind is SessionKind.FREE:
        return FreePlaying(database, spool)
    return Session(database, spool)


def keep_unjudged(database: Database, spool: Spool, reason: str) -> bool:
    """Keeps what a session's exercise cannot judge any more as a recording, with the reason;
    false where there was nothing in it. The spool is then gone."""
    setup = SessionSetup.read(spool.hello)
    with database.session() as session:
        player = session.get_one(Player, setup.player_id)
        horn = horn_of(session, player)
        first = max(spool.first_frame, judged_until(session, spool.session_id))
        pcm = spool.read(first)
        sounding = len(pcm) >= setup.sample_rate * BYTES_PER_SAMPLE * HOP_S
        if sounding:
            started_at = setup.started_at + timedelta(seconds=first * HOP_S)
            sound = listen_to_unjudged(pcm, setup.sample_rate, started_at, horn, reason)
            save_recording(session, player, sound, started_at)
    spool.remove()
    return sounding
