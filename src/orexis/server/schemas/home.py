"""Shapes of what the house is served with: addresses, codes and devices."""

from datetime import datetime
from typing import Annotated

import segno
from pydantic import BaseModel, Field

from orexis.server.home.devices import Device
from orexis.server.home.home import Home
from orexis.server.home.pairing import Code
from orexis.server.schemas.base import Body, Flag, Read, Text

DeviceName = Annotated[Text, Field(min_length=1, max_length=40)]


class DeviceOut(Read):
    """A paired device, and whether it may play or only look."""

    id: int
    name: str
    may_play: bool
    paired_at: datetime
    last_seen_at: datetime


class AddressOut(BaseModel):
    """An address of the house, and its QR code: rows of `1` (dark) and `0`, without a margin."""

    url: str
    qr: list[str]

    @classmethod
    def of(cls, url: str) -> "AddressOut":
        """An address as the API gives it."""
        rows = segno.make(url, micro=False).matrix
        return cls(url=url, qr=["".join("1" if dark else "0" for dark in row) for row in rows])


class CodeOut(BaseModel):
    """The code that a device is paired with, what that device may do, and how long it holds (s)."""

    digits: str
    may_play: bool
    left_s: float


class HomeOut(BaseModel):
    """Whether the devices of the house are served, and where. `me` is the paired device that asks;
    for whoever sits at the machine it is null, and only there are the rest told: `devices` that
    are paired, the `code` that holds, for how many seconds nothing is paired (`waits_s`), and the
    authority's `fingerprint` (SHA-256)."""

    me: DeviceOut | None
    is_open: bool
    addresses: list[AddressOut]
    trouble: str
    fingerprint: str | None
    devices: list[DeviceOut]
    code: CodeOut | None
    waits_s: float

    @classmethod
    def at_the_machine(
        cls, home: Home, fingerprint: str | None, addresses: list[AddressOut]
    ) -> "HomeOut":
        """What is told at the machine."""
        code = home.pairing.code
        return cls(
            me=None,
            is_open=home.is_open,
            addresses=addresses,
            trouble=home.trouble,
            fingerprint=fingerprint,
            devices=[DeviceOut.model_validate(device) for device in home.devices.all()],
            code=code and code_out(code),
            waits_s=home.pairing.waits_s,
        )

    @classmethod
    def on_a_device(cls, device: Device) -> "HomeOut":
        """What a paired device is told."""
        return cls(
            me=DeviceOut.model_validate(device),
            is_open=True,
            addresses=[],
            trouble="",
            fingerprint=None,
            devices=[],
            code=None,
            waits_s=0.0,
        )


def code_out(code: Code) -> CodeOut:
    """A pairing code as the page shows it."""
    return CodeOut(digits=code.digits, may_play=code.may_play, left_s=code.left_s)


class CodeIn(Body):
    """What the device that gives the next code may do."""

    may_play: Flag


class DeviceIn(Body):
    """A device's name, and whether it may play or only look."""

    name: DeviceName
    may_play: Flag


class PairingIn(Body):
    """A code that was typed on a device, and what the device is called."""

    code: Annotated[Text, Field(pattern="^[0-9]{6}$")]
    name: DeviceName
