"""What takes and recordings have in common: their sound, bookmarks, deleting and bringing back."""

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Path, Response
from sqlalchemy.orm import Session
from starlette.convertors import StringConvertor, register_url_convertor

from orexis.practice.carrying import NothingHeardError, heard_as_midi, heard_as_musicxml
from orexis.practice.comparing import NotComparableError, compared_sounds
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import BookmarkId, Data, KeptId, kept_or_404, word_for
from orexis.server.schemas.comparison import ComparisonOut
from orexis.server.schemas.takes import BookmarkIn, BookmarkOut, GoneBackIn
from orexis.store.bookmarks import BookmarkRefusedError, add_bookmark, find_bookmark
from orexis.store.database import Database
from orexis.store.kept import Kept, Kind, delete_kept, restore_kept, sound_of


class _KindConvertor(StringConvertor):
    """Only what is a kind makes an address of one."""

    regex = "|".join(Kind)


register_url_convertor("kind", _KindConvertor())

router = APIRouter(prefix="/api/{kind:kind}/{kept_id}")
KindOf = Annotated[Kind, Path()]


@router.get("/sound", response_class=Response)
def sound(data: Data, kind: KindOf, kept_id: KeptId) -> Response:
    """Its sound as a FLAC file, mono and 16 bit."""
    with data.session() as session:
        kept = kept_or_404(session, kind.model, kept_id)
        flac = sound_of(session, kept)
        if flac is None:
            raise ProblemError(404, "Its sound is not there", "What was measured of it is kept.")
        name = f"orexis-{kept.started_at:%Y%m%d-%H%M%S}.flac"
        return Response(
            flac,
            media_type="audio/flac",
            headers={"Content-Disposition": f'inline; filename="{name}"'},
        )


@router.get("/heard.mid", response_class=Response)
def heard_midi(data: Data, kind: KindOf, kept_id: KeptId) -> Response:
    """What was heard in it as MIDI, its pitch from frame to frame as pitch bend."""
    return _heard(data, kind, kept_id, "mid", "audio/midi", heard_as_midi)


@router.get("/heard.musicxml", response_class=Response)
def heard_musicxml(data: Data, kind: KindOf, kept_id: KeptId) -> Response:
    """What was heard in it as MusicXML, as the player reads it."""
    media_type = "application/vnd.recordare.musicxml+xml"
    return _heard(data, kind, kept_id, "musicxml", media_type, heard_as_musicxml)


def _heard(
    data: Database,
    kind: Kind,
    kept_id: str,
    ending: str,
    media_type: str,
    write: Callable[[Session, Kept], bytes],
) -> Response:
    with data.session() as session:
        kept = kept_or_404(session, kind.model, kept_id)
        try:
            content = write(session, kept)
        except NothingHeardError as error:
            title = "There is nothing to write down"
            raise ProblemError(422, title, str(error)) from error
        name = f"orexis-{kept.started_at:%Y%m%d-%H%M%S}.{ending}"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=media_type, headers=headers)


@router.get("/comparison/{other_kind:kind}/{other_id}")
def comparison(
    data: Data, kind: KindOf, kept_id: KeptId, other_kind: KindOf, other_id: KeptId
) -> ComparisonOut:
    """Compares it with another sound of the same player, aligned by what was played."""
    with data.session() as session:
        one = kept_or_404(session, kind.model, kept_id)
        other = kept_or_404(session, other_kind.model, other_id)
        try:
            return ComparisonOut.of(compared_sounds(session, one, other))
        except NotComparableError as error:
            raise ProblemError(422, "These cannot be compared", str(error)) from error


@router.delete("", status_code=204)
def delete(data: Data, kind: KindOf, kept_id: KeptId) -> None:
    """Deletes it; it can be brought back for seven days."""
    with data.session() as session:
        delete_kept(kept_or_404(session, kind.model, kept_id))


@router.post("/restore", status_code=204)
def restore(data: Data, kind: KindOf, kept_id: KeptId) -> None:
    """Undoes a deletion."""
    with data.session() as session:
        if restore_kept(session, kind.model, kept_id) is None:
            raise not_found(word_for(kind.model))


@router.post("/bookmarks", status_code=201)
def bookmark(data: Data, kind: KindOf, kept_id: KeptId, new: BookmarkIn) -> BookmarkOut:
    """Puts a bookmark into a take or a recording."""
    with data.session() as session:
        kept = kept_or_404(session, kind.model, kept_id)
        try:
            return BookmarkOut.model_validate(add_bookmark(session, kept, new.at_s, new.words))
        except BookmarkRefusedError as error:
            raise ProblemError(422, "The bookmark cannot be put there", str(error)) from error


@router.put("/bookmarks/{bookmark_id}/gone-back")
def go_back(
    data: Data, kind: KindOf, kept_id: KeptId, bookmark_id: BookmarkId, said: GoneBackIn
) -> BookmarkOut:
    """Says whether the player has been back to a bookmark."""
    with data.session() as session:
        found = find_bookmark(session, kept_or_404(session, kind.model, kept_id), bookmark_id)
        if found is None:
            raise not_found("bookmark")
        found.gone_back_at = datetime.now(UTC) if said.gone_back else None
        return BookmarkOut.model_validate(found)


@router.delete("/bookmarks/{bookmark_id}", status_code=204)
def remove_bookmark(data: Data, kind: KindOf, kept_id: KeptId, bookmark_id: BookmarkId) -> None:
    """Takes a bookmark away."""
    with data.session() as session:
        found = find_bookmark(session, kept_or_404(session, kind.model, kept_id), bookmark_id)
        if found is None:
            raise not_found("bookmark")
        session.delete(found)
