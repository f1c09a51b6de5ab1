"""What all tables share: times, and checksums of what is kept packed."""

from datetime import UTC, datetime
from typing import Any
from zlib import crc32

from sqlalchemy import DateTime, Dialect, TypeDecorator
from sqlalchemy.engine.interfaces import ExecutionContext
from sqlalchemy.orm import DeclarativeBase, MappedAsDataclass, MappedColumn, mapped_column


class UtcDateTime(TypeDecorator[datetime]):
    """A time with its zone kept: stored as UTC, which SQLite does not remember by itself."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return value and value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return value and value.replace(tzinfo=UTC)


class Base(MappedAsDataclass, DeclarativeBase):
    """Base of all tables."""


def summed(column: str) -> MappedColumn[int]:
    """The checksum (CRC-32) of what another column of the row holds, told when it is written."""

    def of_the_row(context: ExecutionContext) -> int:
        written: dict[str, Any] = context.get_current_parameters()  # type: ignore[attr-defined]
        return crc32(written[column])

    return mapped_column(
        init=False, insert_default=of_the_row, onupdate=of_the_row, server_default="0"
    )
