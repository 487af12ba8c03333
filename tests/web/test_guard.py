"""The edge: loopback only, own pages only, strict headers."""

from __future__ import annotations

import socket
from pathlib import Path

import pytest
from shots import cut_ball


def test_it_listens_on_loopback_only(stack):
    port = f":{stack.port:04X} "
    lines = [line.split() for line in Path("/proc/net/tcp").read_text().splitlines()[1:]]
    listening = [local for _, local, _, state, *_ in lines if state == "0A" and f":{local.split(':')[1]} " == port]
    assert listening == [f"0100007F{port.strip()}"]
    database = [
        local for _, local, _, state, *_ in lines if state == "0A" and local.endswith(f":{stack.cluster.port:04X}")
    ]
    assert database == [f"0100007F:{stack.cluster.port:04X}"]


@pytest.mark.parametrize("host", ["evil.example", "evil.example:8420", "127.0.0.1.evil.example", "169.254.169.254"])
def test_another_host_name_is_refused(client, host):
    assert client.get("/api/projects", Host=host).status == 403


@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "http://evil.example"},
        {"Origin": "null"},
        {"Sec_Fetch_Site": "cross-site"},
        {"X_Windsock_Browser": ""},
        {"X_Windsock_Browser": "no spaces!"},
    ],
)
def test_a_write_from_elsewhere_is_refused(client, headers):
    before = client.get("/api/projects").json
    answer = client.post("/api/projects", {"name": "Stolen"}, **headers)
    assert answer.status == 403
    assert "Nothing was changed" in answer.json["detail"]
    assert client.get("/api/projects").json == before


def test_answers_carry_strict_headers(client):
    for path in ("/", "/api/projects", "/api/nothing"):
        headers = client.get(path).headers
        policy = headers["Content-Security-Policy"]
        assert "default-src 'none'" in policy
        assert "unsafe" not in policy
        assert headers["X-Content-Type-Options"] == "nosniff"
        assert headers["Referrer-Policy"] == "no-referrer"


def test_each_page_has_a_nonce_of_its_own(client):
    one, other = client.get("/"), client.get("/")
    assert one.headers["Content-Security-Policy"] != other.headers["Content-Security-Policy"]
    nonce = one.headers["Content-Security-Policy"].split("'nonce-")[1].split("'")[0]
    assert nonce.encode() in one.body


def test_files_outside_the_build_are_not_served(client):
    for path in ("/assets/../../../pyproject.toml", "/assets/%2e%2e/%2e%2e/package.json", "/assets//etc/passwd"):
        assert client.get(path).status in (400, 404)


def test_a_body_over_the_limit_is_refused_unread(stack):
    with socket.create_connection(("127.0.0.1", stack.port), 20) as wire:
        head = f"POST /api/assets?name=x.obj HTTP/1.1\r\nHost: 127.0.0.1:{stack.port}\r\nX-Windsock-Browser: abcdefgh1\r\nContent-Length: 99999999999\r\n\r\n"
        wire.sendall(head.encode())
        reply = ""
        while "status" not in reply and (more := wire.recv(4000)):
            reply += more.decode()
    assert " 413 " in reply.splitlines()[0]
    assert "Nothing was" in reply


def test_the_secret_is_read_by_its_owner_only(stack):
    assert (stack.data / "secret").stat().st_mode & 0o077 == 0


def test_the_shots_of_a_project_need_the_header_too(client):
    assert client.ask("DELETE", f"/api/shots/{client.new_shot(cut_ball())}", X_Windsock_Browser="").status == 403
