"""Who may come in from the house: nobody without a token but to pair, none by another name."""

import json
import ssl
import time
from datetime import UTC, datetime
from pathlib import Path

import httpx
import pytest
from typer.testing import CliRunner
from websockets.exceptions import ConnectionClosed, InvalidStatus
from websockets.sync.client import ClientConnection, connect
from websockets.typing import Origin

from orexis.cli import app
from orexis.practice.safekeeping import restore
from orexis.server.home.door import COOKIE
from orexis.store.copies import copy_to
from tests.server.home.conftest import HOUSE, ServingHouse
from tests.server.test_free import FREE

_DESCRIBED = json.loads((Path(__file__).parents[3] / "docs" / "openapi.json").read_text())
ROUTES = [
    (method.upper(), path)
    for path, methods in _DESCRIBED["paths"].items()
    for method in methods
    if path not in ("/api/pairing", "/trust")
]


def token_of(device: httpx.Client) -> str:
    found = device.cookies.get(COOKIE)
    assert found is not None
    return found


def socket_of(
    house: ServingHouse, path: str, token: str = "", origin: str | None = None
) -> ClientConnection:
    headers = {"Cookie": f"{COOKIE}={token}"} if token else {}
    return connect(
        f"wss://{house.host}{path}",
        ssl=house.trust,
        origin=Origin(house.house if origin is None else origin) if origin != "" else None,
        additional_headers=headers,
    )


@pytest.mark.parametrize(("method", "path"), ROUTES)
def test_nothing_answers_without_a_token(house: ServingHouse, method: str, path: str) -> None:
    address = path.replace("{player_id}", "1")
    with house.device() as device:
        answer = device.request(method, address)
        forged = device.request(method, address, headers={"Cookie": f"{COOKIE}={'x' * 43}"})
    assert (answer.status_code, forged.status_code) == (401, 401)
    assert answer.json()["title"] == "This device is not paired"


def test_a_page_leads_to_the_one_that_pairs_and_that_has_all_it_needs(house: ServingHouse) -> None:
    html = {"Accept": "text/html,*/*"}
    with house.device() as device:
        for path in ("/", "/index.html", "/assets/x.js", "/api/players"):
            answer = device.get(path, headers=html)
            assert (answer.status_code, answer.headers["Location"]) == (303, "/pair/")
        page = device.get("/pair/", headers=html)
        assert page.status_code == 200
        assert "script-src 'self'" in page.headers["Content-Security-Policy"]
        needed = [part.split('"')[0] for part in page.text.split('="/')[1:]]
        assert len(needed) >= 2
        for path in needed:
            assert device.get(f"/{path}").status_code == 200
        for path in ("/pair/../index.html", "/pair/%2e%2e/index.html", "/pair/..%2findex.html"):
            assert device.get(path).status_code == 401


def test_the_certificate_is_handed_out_and_is_the_one_that_is_served(house: ServingHouse) -> None:
    with house.device() as device:
        answer = device.get("/trust")
    assert answer.headers["Content-Type"] == "application/x-x509-ca-cert"
    pem = ssl.DER_cert_to_PEM_cert(answer.content)
    with httpx.Client(verify=ssl.create_default_context(cadata=pem)) as trusting:
        assert trusting.get(f"{house.house}/trust").content == answer.content


@pytest.mark.parametrize("path", ["/api/live", "/api/house"])
def test_no_socket_opens_without_a_token_or_for_another_page(
    house: ServingHouse, path: str
) -> None:
    with house.paired() as device:
        token = token_of(device)
    for given, origin in (
        ("", None),
        ("x" * 43, None),
        (token, "https://evil.example"),
        (token, ""),
    ):
        with pytest.raises(InvalidStatus) as refused:
            socket_of(house, path, given, origin)
        assert refused.value.response.status_code in (401, 403)
    with socket_of(house, path, token):
        pass


def test_other_names_for_the_address_are_refused(house: ServingHouse) -> None:
    with house.paired() as device:
        for host in ("evil.example", f"evil.example:{house.port}", HOUSE, "localhost"):
            assert device.get("/api/players", headers={"Host": host}).status_code == 421, host
        # The house's addresses are none for loopback either, nor loopback's for the house.
        loopback = {"Host": f"127.0.0.1:{house.port}"}
        assert device.get("/api/players", headers=loopback).status_code == 421
    with house.at_the_machine() as here:
        assert here.get("/api/players", headers={"Host": house.host}).status_code == 421


@pytest.mark.parametrize("origin", ["https://evil.example", "null", "http://127.0.0.2", None])
def test_what_another_page_sends_is_refused(house: ServingHouse, origin: str | None) -> None:
    with house.paired() as device:
        device.headers.pop("Origin")
        headers = {} if origin is None else {"Origin": origin}
        answer = device.post("/api/players", json={}, headers=headers)
        assert (answer.status_code, answer.json()["title"]) == (403, "This came from another page")


def test_plain_http_is_not_answered_there(house: ServingHouse) -> None:
    with pytest.raises(httpx.HTTPError):
        httpx.get(f"http://{house.host}/pair/")


def test_a_token_is_for_this_address_alone_and_no_script_reads_it(house: ServingHouse) -> None:
    with house.at_the_machine() as here:
        code = here.post("/api/home/code", json={"may_play": True}).json()["digits"]
    with house.device() as device:
        answer = device.post("/api/pairing", json={"code": code, "name": "Tablet"})
    cookie = answer.headers["Set-Cookie"]
    name, *flags = [part.strip() for part in cookie.split(";")]
    assert name.startswith("__Host-")
    assert len(name.split("=")[1]) >= 43
    assert {flag.lower() for flag in flags} >= {
        "httponly",
        "secure",
        "samesite=strict",
        "path=/",
    }
    assert not any(flag.lower().startswith("domain") for flag in flags)


def test_no_token_is_kept(fresh: ServingHouse) -> None:
    with fresh.paired() as device:
        token = token_of(device).encode()
    fresh.stop()
    for path in fresh.data.parent.rglob("*"):
        assert path.is_dir() or token not in path.read_bytes()


def test_a_wrong_code_is_told_and_the_fifth_makes_pairing_wait(fresh: ServingHouse) -> None:
    with fresh.at_the_machine() as here, fresh.device() as device:
        nothing = device.post("/api/pairing", json={"code": "123456", "name": "x"})
        assert (nothing.status_code, nothing.json()["title"]) == (409, "The computer shows no code")
        right = here.post("/api/home/code", json={"may_play": True}).json()["digits"]
        wrong = {"code": f"{(int(right) + 1) % 1_000_000:06d}", "name": "x"}
        said = [device.post("/api/pairing", json=wrong) for _ in range(5)]
        assert [response.status_code for response in said] == [403, 403, 403, 403, 429]
        assert said[3].json()["detail"] == "Look at the computer: 1 attempt left."
        late = device.post("/api/pairing", json={"code": right, "name": "x"})
        assert late.status_code == 429
        assert here.post("/api/home/code", json={"may_play": True}).status_code == 429
        told = here.get("/api/home").json()
        assert told["code"] is None
        assert 25 < told["waits_s"] <= 30
        assert told["devices"] == []


@pytest.mark.parametrize(
    "body",
    [
        {"code": "12345", "name": "x"},
        {"code": "1234567", "name": "x"},
        {"code": "12345a", "name": "x"},
        {"code": 123456, "name": "x"},
        {"code": "123456", "name": ""},
        {"code": "123456", "name": "x" * 41},
        {"code": "123456"},
    ],
)
def test_a_code_in_another_form_is_refused(house: ServingHouse, body: dict[str, object]) -> None:
    with house.device() as device:
        assert device.post("/api/pairing", json=body).status_code == 422


def test_a_device_is_listed_renamed_and_forgotten_at_the_machine_alone(
    fresh: ServingHouse,
) -> None:
    with fresh.at_the_machine() as here, fresh.paired("Tablet") as device:
        (listed,) = here.get("/api/home").json()["devices"]
        assert (listed["name"], listed["may_play"]) == ("Tablet", True)
        path = f"/api/home/devices/{listed['id']}"
        told = device.get("/api/home").json()
        assert told["me"]["name"] == "Tablet"
        # What whoever sits at the machine sees is not told.
        assert (told["devices"], told["code"], told["addresses"]) == ([], None, [])
        for method, address, body in (
            ("POST", "/api/home/code", {"may_play": True}),
            ("POST", "/api/home/close", None),
            ("PUT", path, {"name": "Mine", "may_play": True}),
            ("DELETE", path, None),
        ):
            assert device.request(method, address, json=body).status_code == 403
        changed = here.put(path, json={"name": "On the stand", "may_play": True})
        assert changed.json()["name"] == "On the stand"
        assert device.get("/api/home").json()["me"]["name"] == "On the stand"
        assert here.delete(path).status_code == 204
        assert here.delete(path).status_code == 404
        assert device.get("/api/players").status_code == 401


def test_a_device_may_only_look_where_that_is_said(fresh: ServingHouse) -> None:
    with fresh.at_the_machine() as here, fresh.paired(may_play=False) as device:
        assert device.get("/api/players").status_code == 200
        refused = device.post("/api/players", json={})
        assert refused.json()["title"] == "This device may only look"
        token = token_of(device)
        with pytest.raises(InvalidStatus):
            socket_of(fresh, "/api/live", token)
        with socket_of(fresh, "/api/house", token) as socket:
            assert json.loads(socket.recv()) == {"type": "ears", "device": "Phone", "ears": []}
            socket.send(json.dumps({"type": "press", "press": "pause"}))
            assert json.loads(socket.recv())["detail"].startswith("This device may only look")
        (listed,) = here.get("/api/home").json()["devices"]
        body = {"name": "Phone", "may_play": True}
        here.put(f"/api/home/devices/{listed['id']}", json=body).raise_for_status()
        assert device.post("/api/players", json={}).status_code == 422
        with socket_of(fresh, "/api/live", token):
            pass


@pytest.mark.parametrize("change", ["forgotten", "may only look", "closed"])
def test_who_may_not_stay_is_sent_off_in_the_middle(fresh: ServingHouse, change: str) -> None:
    with fresh.at_the_machine() as here, fresh.paired() as device:
        (listed,) = here.get("/api/home").json()["devices"]
        path = f"/api/home/devices/{listed['id']}"
        with socket_of(fresh, "/api/live", token_of(device)) as socket:
            socket.send(json.dumps({**FREE, "player_id": None}))
            while json.loads(socket.recv())["type"] != "ready":
                pass
            match change:
                case "forgotten":
                    here.delete(path).raise_for_status()
                case "may only look":
                    here.put(path, json={"name": "x", "may_play": False}).raise_for_status()
                case _:
                    here.post("/api/home/close").raise_for_status()
            with pytest.raises(ConnectionClosed) as closed:
                list(iter(lambda: socket.recv(timeout=5), None))
            if change != "closed":
                assert closed.value.rcvd is not None
                assert closed.value.rcvd.code == 4003


def test_the_door_is_closed_and_opened_from_the_machine(fresh: ServingHouse) -> None:
    with fresh.at_the_machine() as here, fresh.paired() as device:
        assert here.post("/api/home/close").json()["is_open"] is False
        with pytest.raises(httpx.HTTPError):
            device.get("/api/players")
        opened = here.post("/api/home/open").json()
        assert [address["url"] for address in opened["addresses"]] == [fresh.house]
        assert len(opened["fingerprint"].split(" ")) == 32
        # A QR code has three corners alike, seven wide.
        rows = opened["addresses"][0]["qr"]
        assert rows[0][:8] == "11111110"
        assert rows[0][-8:] == "01111111"
        assert rows[-1][:8] == "11111110"
    with fresh.device() as again:
        assert again.get("/pair/").status_code == 200


def test_a_device_is_known_after_a_new_start(fresh: ServingHouse) -> None:
    with fresh.paired() as device:
        fresh.stop()
        fresh.start()
        assert device.get("/api/players").status_code == 200


def test_a_copy_that_is_put_back_lets_nobody_in(fresh: ServingHouse, tmp_path: Path) -> None:
    with fresh.paired() as device:
        fresh.stop()
        copy = tmp_path / "copy.db"
        copy_to(fresh.data, copy)
        restore(copy, fresh.data, datetime.now(UTC))
        fresh.start()
        assert device.get("/api/players").status_code == 401


def test_when_a_device_was_seen_is_kept(fresh: ServingHouse) -> None:
    with fresh.at_the_machine() as here, fresh.paired() as device:
        (first,) = here.get("/api/home").json()["devices"]
        assert first["last_seen_at"] == first["paired_at"]
        time.sleep(0.01)
        device.get("/api/players").raise_for_status()
        # It is kept once a minute, not with every question.
        (second,) = here.get("/api/home").json()["devices"]
        assert second == first


@pytest.mark.parametrize("address", ["8.8.8.8", "example.org", "0.0.0.0"])
def test_no_address_outside_of_the_house_is_served(tmp_path: Path, address: str) -> None:
    said = CliRunner().invoke(
        app,
        ["serve", "--data", str(tmp_path / "o.db"), "--home", "--home-address", address],
    )
    assert said.exit_code == 2
    assert address in said.output
    assert not (tmp_path / "o.db").exists()


def test_what_cannot_be_served_keeps_nobody_from_the_machine(tmp_path: Path) -> None:
    folder = tmp_path / "orexis.db-home"
    folder.mkdir()
    for name in ("authority.pem", "authority.key"):
        (folder / name).write_text("not a certificate")
    server = ServingHouse(tmp_path / "orexis.db")
    try:
        with server.at_the_machine() as here:
            told = here.get("/api/home").json()
            assert told["is_open"] is False
            assert "Move that folder away" in told["trouble"]
            assert here.post("/api/home/open").json()["title"] == "Other devices cannot be served"
    finally:
        server.stop()
