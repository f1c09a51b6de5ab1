"""Takes, notes and days as tables to carry elsewhere."""

from collections.abc import Iterator

from fastapi import APIRouter
from fastapi.responses import StreamingResponse

from orexis.formats.tables import TABLES, Form, TableName, written
from orexis.practice.carrying import ROWS
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.store.database import Database
from orexis.store.models import Player

router = APIRouter(prefix="/api/players/{player_id}/tables")

_TYPES = {Form.CSV: "text/csv; charset=utf-8", Form.JSON: "application/json"}


@router.get("/{name}.{form}", response_class=StreamingResponse)
def table(data: Data, player_id: PlayerId, name: TableName, form: Form) -> StreamingResponse:
    """A table as a file, written as it is read."""
    with data.session() as session:
        player_or_404(session, player_id)
    return StreamingResponse(
        _pieces(data, player_id, name, form),
        media_type=_TYPES[form],
        headers={"Content-Disposition": f'attachment; filename="orexis-{name}.{form}"'},
    )


def _pieces(data: Database, player_id: int, name: TableName, form: Form) -> Iterator[str]:
    # The response is read after the route has ended, so that it needs a session of its own.
    with data.session() as session:
        player = session.get_one(Player, player_id)
        yield from written(TABLES[name], form, player.name, ROWS[name](session, player))
