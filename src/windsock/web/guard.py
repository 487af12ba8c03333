"""The edge: who may ask, from where, how much at once, and with what headers answers leave."""

from __future__ import annotations

import secrets
from collections import Counter
from threading import Lock
from typing import cast
from urllib.parse import urlsplit

from apiflask import APIFlask
from flask import Response, current_app, g, request

from windsock.formats.limits import FILE_LIMIT
from windsock.formats.project import PACKED_LIMIT
from windsock.web.json_in import CheckedJson, refuse_control
from windsock.web.problems import problem

BROWSER_HEADER = "X-Windsock-Browser"
BODY_LIMIT = 4 * 2**20
"""Bytes of a request, but for those that bring files."""

LARGER = {"assets.import_file": FILE_LIMIT, "projects.bring_project": PACKED_LIMIT, "shots.bring_keys": 12 * 2**20}
"""Bytes of requests that bring files, by their endpoints."""

MOST_AT_ONCE = 12
"""Requests of one browser that are answered at the same time."""

LOOPBACK = {"127.0.0.1", "localhost", "[::1]"}


def register(app: APIFlask) -> None:
    """Check every request before it is answered, and set the security headers of every answer."""
    app.config["MAX_CONTENT_LENGTH"] = BODY_LIMIT
    app.json = CheckedJson(app)
    app.extensions["windsock-at-once"] = RequestCounter()
    app.before_request(_checked)
    app.after_request(_headed)
    app.teardown_request(_ended)


class RequestCounter:
    """Counts the requests of each browser that are being answered."""

    def __init__(self) -> None:
        self._counts: Counter[str] = Counter()
        self._lock = Lock()

    def enter(self, browser: str) -> bool:
        """Whether one more may be answered now."""
        with self._lock:
            if self._counts[browser] >= MOST_AT_ONCE:
                return False
            self._counts[browser] += 1
            return True

    def leave(self, browser: str) -> None:
        """One is answered."""
        with self._lock:
            self._counts[browser] -= 1
            if self._counts[browser] <= 0:
                del self._counts[browser]


def browser() -> str:
    """Which browser asks, by its own number."""
    return request.headers.get(BROWSER_HEADER, "")


def _checked() -> Response | None:
    g.nonce = secrets.token_urlsafe(16)
    if request.endpoint in LARGER:
        request.max_content_length = LARGER[request.endpoint]
    if request.host.rsplit(":", 1)[0] not in LOOPBACK:
        return problem(403, "This server answers only to its own address on this machine.")
    if not request.path.startswith("/api/"):
        return None
    if request.method == "HEAD":
        return problem(405, "This address does not take this kind of request.")
    origin = request.headers.get("Origin")
    if origin is not None and urlsplit(origin).netloc != request.host:
        return problem(403, "This request comes from another site. Nothing was changed.")
    if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
        return problem(403, "This request comes from another site. Nothing was changed.")
    if request.method not in ("GET", "OPTIONS") and (not 8 <= len(browser()) <= 64 or not browser().isalnum()):
        return problem(403, f"Changes need the header {BROWSER_HEADER}. Nothing was changed.")
    for text in (request.path, *request.args, *request.args.values()):
        refuse_control(text)
    if not _at_once().enter(browser()):
        return problem(
            429,
            f"This browser has {MOST_AT_ONCE} requests under way already. Nothing was changed. Wait for one of them, then "
            "ask again.",
        )
    g.entered = True
    return None


def _ended(fault: BaseException | None) -> None:
    del fault
    if g.pop("entered", False):
        _at_once().leave(browser())


def _at_once() -> RequestCounter:
    return cast(RequestCounter, current_app.extensions["windsock-at-once"])


def _headed(response: Response) -> Response:
    nonce = g.get("nonce", "")
    response.headers["Content-Security-Policy"] = (
        f"default-src 'none'; script-src 'self' 'nonce-{nonce}'; style-src 'self' 'nonce-{nonce}'; img-src 'self' data: blob:; "
        "media-src 'self'; font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
    )
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "no-referrer"
    response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
    response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
    response.headers["Permissions-Policy"] = "camera=(), geolocation=(), microphone=()"
    response.headers.setdefault("Cache-Control", "no-store")
    return response
