"""The house: whether its devices are served, pairing them, and the certificate they trust."""

import asyncio
import math
from datetime import UTC, datetime
from typing import Annotated

from cryptography.hazmat.primitives.serialization import Encoding
from fastapi import APIRouter, Depends, Path, Request, Response

from orexis.core.counting import counted
from orexis.server.home.devices import Device
from orexis.server.home.door import COOKIE, COOKIE_LASTS_S, DEVICE
from orexis.server.home.home import Home, HomeUnusableError
from orexis.server.home.pairing import NoCodeError, PairingWaitsError, WrongCodeError
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import LARGEST_ID
from orexis.server.schemas.home import (
    AddressOut,
    CodeIn,
    CodeOut,
    DeviceIn,
    DeviceOut,
    HomeOut,
    PairingIn,
    code_out,
)
from orexis.server.security import DOOR

router = APIRouter()

CERTIFICATE_TYPE = "application/x-x509-ca-cert"

DeviceId = Annotated[int, Path(ge=1, le=LARGEST_ID)]


def _home(request: Request) -> Home:
    home: Home = request.app.state.home
    return home


def _device(request: Request) -> Device | None:
    """The paired device that asks; `None` at the computer itself."""
    device: Device | None = request.scope.get(DEVICE)
    return device


def _home_at_the_machine(request: Request) -> Home:
    if _device(request) is not None:
        raise ProblemError(
            403,
            "This is done on the computer",
            "Open Phones and tablets on the computer that runs Orexis.",
        )
    return _home(request)


House = Annotated[Home, Depends(_home)]
AtTheMachine = Annotated[Home, Depends(_home_at_the_machine)]


async def _told(home: Home) -> HomeOut:
    fingerprint = None
    if home.is_open:
        fingerprint = await asyncio.to_thread(home.authority.fingerprint, datetime.now(UTC))
    return HomeOut.at_the_machine(home, fingerprint, [AddressOut.of(url) for url in home.urls])


@router.get("/api/home")
async def home(request: Request, house: House) -> HomeOut:
    """Whether the devices of the house are served, and what is known of them."""
    device = _device(request)
    return await _told(house) if device is None else HomeOut.on_a_device(device)


@router.post("/api/home/open")
async def open_home(house: AtTheMachine) -> HomeOut:
    """Serves the devices of the house from now on, until Orexis stops."""
    try:
        await house.open()
    except HomeUnusableError as error:
        raise ProblemError(409, "Other devices cannot be served", str(error)) from error
    return await _told(house)


@router.post("/api/home/close")
async def close_home(house: AtTheMachine) -> HomeOut:
    """Serves this computer alone again."""
    await house.close()
    return await _told(house)


@router.post("/api/home/code")
def show_code(house: AtTheMachine, asked: CodeIn) -> CodeOut:
    """A new code for pairing; the one before does not hold any more."""
    try:
        return code_out(house.pairing.show(may_play=asked.may_play))
    except PairingWaitsError as error:
        raise _waits(error) from error


@router.delete("/api/home/code", status_code=204, response_class=Response)
def hide_code(house: AtTheMachine) -> None:
    """Voids the code."""
    house.pairing.hide()


@router.put("/api/home/devices/{device_id}")
def change_device(house: AtTheMachine, device_id: DeviceId, asked: DeviceIn) -> DeviceOut:
    """Renames a device, and says whether it may play or only look."""
    try:
        device = house.devices.change(device_id, asked.name, may_play=asked.may_play)
    except LookupError:
        raise not_found("device") from None
    return DeviceOut.model_validate(device)


@router.delete("/api/home/devices/{device_id}", status_code=204, response_class=Response)
def forget_device(house: AtTheMachine, device_id: DeviceId) -> None:
    """Forgets a device at once, whatever it is doing."""
    try:
        house.devices.forget(device_id)
    except LookupError:
        raise not_found("device") from None


@router.post("/api/pairing", status_code=204, response_class=Response)
def pair(request: Request, house: House, asked: PairingIn, response: Response) -> None:
    """Pairs the device that knows the code: its token comes as a cookie."""
    if DOOR not in request.scope:
        raise ProblemError(
            409, "This computer needs no code", "Open its address on the phone or tablet."
        )
    try:
        may_play = house.pairing.redeem(asked.code)
    except PairingWaitsError as error:
        raise _waits(error) from error
    except NoCodeError as error:
        raise ProblemError(
            409,
            "The computer shows no code",
            "On the computer, open Phones and tablets and choose Pair a device.",
        ) from error
    except WrongCodeError as error:
        left = f"{counted(error.left, 'attempt')} left"
        raise ProblemError(403, "That is not the code", f"Look at the computer: {left}.") from error
    token = house.devices.pair(asked.name, datetime.now(UTC), may_play=may_play)
    response.set_cookie(
        COOKIE, token, COOKIE_LASTS_S, secure=True, httponly=True, samesite="strict"
    )


def _waits(error: PairingWaitsError) -> ProblemError:
    seconds = math.ceil(error.left_s)
    words = f"{seconds} s" if seconds <= 90 else f"{math.ceil(seconds / 60)} minutes"
    return ProblemError(
        429, "Too many codes were wrong", f"Wait {words}, then ask the computer for a new code."
    )


@router.get("/trust", response_class=Response, responses={200: {"content": {CERTIFICATE_TYPE: {}}}})
def trust(house: House) -> Response:
    """The certificate that a device has to trust, to keep."""
    if not house.is_open:
        raise not_found("certificate")
    certificate = house.authority.certificate(datetime.now(UTC))
    return Response(
        certificate.public_bytes(Encoding.DER),
        media_type=CERTIFICATE_TYPE,
        headers={"Content-Disposition": 'attachment; filename="orexis.crt"'},
    )
