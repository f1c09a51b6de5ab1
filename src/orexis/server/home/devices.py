"""The devices that were paired: who comes with a token, and what they may do."""

import hashlib
import secrets
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from threading import Lock

from orexis.store.database import Database
from orexis.store.devices import add_device, forget_device, paired_devices
from orexis.store.models import PairedDevice

_TOKEN_BYTES = 32
_SEEN_EVERY = timedelta(minutes=1)


@dataclass(frozen=True, slots=True)
class Device:
    """A paired device."""

    id: int
    name: str
    may_play: bool
    paired_at: datetime
    last_seen_at: datetime


class Devices:
    """All paired devices. They are read once; only this process changes them."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._lock = Lock()
        self._leaving: dict[int, dict[object, Callable[[], None]]] = {}
        with database.session() as session:
            self._known = {row.token_sha256: _device(row) for row in paired_devices(session)}

    def all(self) -> list[Device]:
        """The devices, oldest first."""
        with self._lock:
            return sorted(self._known.values(), key=lambda device: device.id)

    def find(self, token: str, now: datetime) -> Device | None:
        """Whose token it is; that it was seen is kept once a minute."""
        key = _sha256(token)
        with self._lock:
            device = self._known.get(key)
            if device is None or now - device.last_seen_at < _SEEN_EVERY:
                return device
            device = self._known[key] = replace(device, last_seen_at=now)
        with self._database.session() as session:
            row = session.get(PairedDevice, device.id)
            if row is not None:
                row.last_seen_at = now
        return device

    def pair(self, name: str, now: datetime, *, may_play: bool) -> str:
        """Keeps a device; returns its token, which is kept nowhere else."""
        token = secrets.token_urlsafe(_TOKEN_BYTES)
        key = _sha256(token)
        with self._lock:
            with self._database.session() as session:
                device = _device(add_device(session, name, key, may_play, now))
            self._known[key] = device
        return token

    def change(self, device_id: int, name: str, *, may_play: bool) -> Device:
        """Renames a device, and says what it may do. Raises `LookupError`."""
        with self._lock:
            with self._database.session() as session:
                row = session.get(PairedDevice, device_id)
                if row is None:
                    raise LookupError(device_id)
                row.name, row.may_play = name, may_play
            device = self._known[row.token_sha256] = _device(row)
        if not may_play:
            # What it is doing it might not do any more.
            self._send_off(device_id)
        return device

    def forget(self, device_id: int) -> None:
        """Forgets a device at once, in the middle of what it does. Raises `LookupError`."""
        with self._lock:
            with self._database.session() as session:
                if not forget_device(session, device_id):
                    raise LookupError(device_id)
            self._known = {
                key: device for key, device in self._known.items() if device.id != device_id
            }
        self._send_off(device_id)

    def staying(self, device_id: int, visit: object, send_off: Callable[[], None]) -> None:
        """Notes a visit (an open socket) that ends with `send_off` when the device may not stay."""
        with self._lock:
            self._leaving.setdefault(device_id, {})[visit] = send_off
            is_known = any(device.id == device_id for device in self._known.values())
        if not is_known:
            send_off()

    def left(self, device_id: int, visit: object) -> None:
        """The visit is over."""
        with self._lock:
            self._leaving.get(device_id, {}).pop(visit, None)

    def _send_off(self, device_id: int) -> None:
        with self._lock:
            visits = list(self._leaving.get(device_id, {}).values())
        for send_off in visits:
            send_off()


def _sha256(token: str) -> bytes:
    return hashlib.sha256(token.encode()).digest()


def _device(row: PairedDevice) -> Device:
    return Device(row.id, row.name, row.may_play, row.paired_at, row.last_seen_at)
