"""One person does not stop another: a hundred browsers, greedy and slow clients, and requests that mean harm."""

from __future__ import annotations

import http.client
import json
import socket
import threading
import time
from concurrent.futures import ThreadPoolExecutor

import pytest
from conftest import Client
from shots import cut_ball


def raw(stack, method: str, path: str, body: bytes = b"", **headers: str) -> tuple[int, bytes]:
    connection = http.client.HTTPConnection("127.0.0.1", stack.port, timeout=120)
    named = {name.replace("_", "-"): value for name, value in headers.items()}
    connection.request(method, path, body=body or None, headers=named)
    reply = connection.getresponse()
    found = reply.status, reply.read()
    connection.close()
    return found


def test_a_hundred_browsers_hear_what_happens(stack, client):
    shot = client.new_shot(cut_ball())
    browsers = [Client(stack.address) for _ in range(100)]
    with ThreadPoolExecutor(50) as pool:
        known = list(pool.map(lambda one: one.get("/api/events").json["version"], browsers))
        assert client.edit(shot, 0, "/name", "Heard by all", label="for all").status == 200
        time.sleep(1.5)
        heard = list(
            pool.map(lambda one: one[0].get(f"/api/events?known={one[1]}").json, zip(browsers, known, strict=True))
        )
    for told in heard:
        assert [one["label"] for one in told["edits"] if one["shot"] == shot] == ["for all"]


@pytest.mark.parametrize("method", ["GET", "POST", "PUT", "PATCH", "DELETE", "HEAD"])
@pytest.mark.parametrize("path", ["/api/events", "/api/projects", "/api/jobs", "/api/assets"])
def test_requests_from_other_sites_are_refused_by_every_method(stack, method, path):
    """As a page elsewhere sends them: with the browser's own word where they come from."""
    for _ in range(3):
        status, _ = raw(stack, method, path, Sec_Fetch_Site="cross-site", X_Windsock_Browser="abcdefgh12")
        assert status == (405 if method == "HEAD" else 403)
        status, _ = raw(stack, method, path, Origin="http://elsewhere.example", X_Windsock_Browser="abcdefgh12")
        assert status == (405 if method == "HEAD" else 403)
    assert Client(stack.address).get("/api/events").status == 200


def test_a_greedy_browser_is_told_to_wait_and_others_are_answered(stack, client):
    """Forty requests at once that all take a while."""
    document = cut_ball({"kind": "sphere", "subdivisions": 6})
    shot = client.new_shot(document)
    greedy = Client(stack.address)

    def ask(number: int) -> int:
        wish = {"revision": 0, "frame": 10 + number / 7, "patch": [], "ahead": True, "view": f"v{number}", "wish": 1}
        return greedy.post(f"/api/shots/{shot}/frame", wish).status

    with ThreadPoolExecutor(40) as pool:
        asked = [pool.submit(ask, number) for number in range(40)]
        for _ in range(10):
            assert Client(stack.address).get("/api/projects").status == 200
            assert Client(stack.address).post(f"/api/shots/{shot}/frame", {"revision": 0, "frame": 3}).status == 200
        found = [one.result() for one in asked]
    assert 429 in found
    assert set(found) <= {200, 429, 499}
    assert "under way already" in words_of(greedy, shot)


def words_of(greedy: Client, shot: str) -> str:
    """What a browser is told that asks for too much at once."""
    told: list[str] = []

    def ask(number: int) -> None:
        answer = greedy.post(
            f"/api/shots/{shot}/frame", {"revision": 0, "frame": 40 + number / 9, "view": f"w{number}"}
        )
        if answer.status == 429:
            told.append(answer.json["detail"])

    with ThreadPoolExecutor(40) as pool:
        list(pool.map(ask, range(40)))
    return " ".join(told)


def test_those_who_send_slowly_hold_nobody_up(stack, client):
    """Sixty half-sent heads and sixty half-sent bodies, left open."""
    wires = []
    for number in range(120):
        wire = socket.create_connection(("127.0.0.1", stack.port), 10)
        head = f"POST /api/projects HTTP/1.1\r\nHost: 127.0.0.1:{stack.port}\r\n"
        if number % 2:
            head += "X-Windsock-Browser: abcdefgh12\r\nContent-Type: application/json\r\nContent-Length: 900\r\n\r\n{"
        wire.sendall(head.encode())
        wires.append(wire)
    started = time.monotonic()
    for _ in range(20):
        assert client.get("/api/projects").status == 200
    assert time.monotonic() - started < 60
    for wire in wires:
        wire.close()


def posted(client: Client, text: bytes):
    return client.ask("POST", "/api/projects", text, Content_Type="application/json")


@pytest.mark.parametrize(
    ("text", "status"),
    [
        (b"[" + b"[]," * 1_300_000 + b"[]]", 422),
        (b'{"name": "' + b"x" * 5_000_000 + b'"}', 413),
        (b"[" * 100_000 + b"]" * 100_000, 422),
        (b'{"a":' * 900 + b"1" + b"}" * 900, 422),
        (b'{"name": "a\\u0000b"}', 422),
        (b'{"name": "a\\u2028b"}', 422),
        (b'{"name": "a\x7fb"}', 422),
        ('{"name": "a\u0085b"}'.encode(), 422),
        ('{"na\u2029me": 1}'.encode(), 422),
        (b"\xff\xfe", 422),
        (b'{"name": NaN}', 422),
    ],
    ids=["many", "large", "deep", "deep objects", "nul", "line", "delete", "next line", "key", "not text", "no number"],
)
def test_json_that_means_harm_is_refused_in_words(client, text, status):
    answer = posted(client, text)
    assert answer.status == status, answer.body[:300]
    assert "Nothing was changed" in answer.json["detail"]


def test_an_escaped_backslash_before_a_u_is_only_text(client):
    made = posted(client, b'{"name": "a\\\\u0000b"}')
    assert made.status == 201


@pytest.mark.parametrize("path", ["/~2", "/items/~", "/items/a~9b/name", "/items/ball/name\u0000"])
def test_pointers_that_are_none_are_refused(client, path):
    shot = client.new_shot(cut_ball())
    assert client.edit(shot, 0, path, "x").status == 422
    assert client.edit(shot, 0, "/name", "Still here").status == 200


def test_control_characters_in_addresses_are_refused(client):
    for name in ("a%00.obj", "a%7f.obj", "a%c2%85.obj", "a%e2%80%a8.obj"):
        assert client.post(f"/api/assets?name={name}", b"v 0 0 0").status == 422


def test_a_document_that_is_too_large_is_refused_and_the_schema_says_so(client):
    limits = client.get("/api/schema").json["x-limits"]
    assert limits["bytes"] <= 4 * 2**20
    keys = {f"k{place}": {"frame": place, "value": 1.0} for place in range(1000)}
    document = cut_ball()
    for place in range(80):
        light = {"kind": "light", "name": f"L{place}", "rank": place, "strength": {"keys": keys}}
        document["items"][f"l{place}"] = light
    project = client.post("/api/projects", {"name": "Tests"}).json["id"]
    answer = client.post(f"/api/projects/{project}/shots", {"document": document})
    assert answer.status == 413
    assert "Nothing was changed" in answer.json["detail"]


def test_the_key_of_an_edit_belongs_to_one_person_and_one_shot(client, client_for):
    one, other = client.new_shot(cut_ball()), client.new_shot(cut_ball())
    for shot in (one, other):
        assert client.edit(shot, 0, "/fields/front/level", 0.3, key="the-same-key").status == 200
        assert client.get(f"/api/shots/{shot}").json["document"]["fields"]["front"]["level"] == 0.3
    somebody = client_for(client.address)
    assert somebody.edit(one, 1, "/fields/front/level", 0.4, key="the-same-key").status == 200
    assert client.get(f"/api/shots/{one}").json["document"]["fields"]["front"]["level"] == 0.4
    # Sent again it is made once.
    assert client.edit(one, 0, "/fields/front/level", 0.3, key="the-same-key").json["revision"] == 2


def test_work_stops_when_the_one_who_asked_is_gone(stack, client):
    """A page that is closed: its connection ends while the evaluator is at it."""
    document = cut_ball({"kind": "sphere", "subdivisions": 7}, frames={"first": 0, "last": 2000})
    document["fields"]["front"]["memory"] = {"kind": "hold"}
    shot = client.new_shot(document)
    body = json.dumps({"revision": 0, "field": "front", "item": "ball", "view": "strip", "wish": 1}).encode()
    asker = Client(stack.address)
    wire = socket.create_connection(("127.0.0.1", stack.port), 10)
    head = (
        f"POST /api/shots/{shot}/coverage HTTP/1.1\r\nHost: 127.0.0.1:{stack.port}\r\nContent-Type: application/json\r\n"
        f"X-Windsock-Browser: {asker.browser}\r\nContent-Length: {len(body)}\r\n\r\n"
    )
    wire.sendall(head.encode() + body)
    until(lambda: asker.get("/api/events").json["work"])
    wire.close()
    until(lambda: not asker.get("/api/events").json["work"])


def until(check, seconds: float = 120.0) -> None:
    deadline = time.monotonic() + seconds
    while not check():
        assert time.monotonic() < deadline, "it did not happen in time"
        time.sleep(0.1)


def test_many_imports_at_once_and_a_drawing_that_expands_hold_nobody_up(client, client_for):
    """A drawing whose parts are used by reference doubles with each; it is counted before it is read."""
    parts = "".join(f'<g id="g{n}"><use href="#g{n + 1}"/><use href="#g{n + 1}"/></g>' for n in range(60))
    drawing = f'<svg xmlns="http://www.w3.org/2000/svg"><g id="g60"><path d="M0 0H1V1Z"/></g>{parts}</svg>'.encode()
    answer = client.post("/api/assets?name=many.svg", drawing)
    assert answer.status == 422
    assert "by reference" in answer.json["detail"]
    shot = client.new_shot(cut_ball())
    threads = [
        threading.Thread(target=client_for(client.address).post, args=(f"/api/assets?name=n{n}.obj", obj(n)))
        for n in range(6)
    ]
    for thread in threads:
        thread.start()
    assert client.post(f"/api/shots/{shot}/frame", {"revision": 0, "frame": 7}).status == 200
    for thread in threads:
        thread.join()


def obj(number: int) -> bytes:
    lines = [f"v {n % 100} {n // 100} {number}" for n in range(10_000)]
    lines += [f"f {n} {n + 1} {n + 101}" for n in range(1, 9_800)]
    return "\n".join(lines).encode()
