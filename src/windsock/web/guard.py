"""The edge: who may ask, from where, how much, and with what headers answers leave."""

from __future__ import annotations

import secrets
from urllib.parse import urlsplit

from apiflask import APIFlask
from flask import Response, g, request

from windsock.web.problems import problem

BROWSER_HEADER = "X-Windsock-Browser"
BODY_LIMIT = 66 * 1024 * 1024
LOOPBACK = {"127.0.0.1", "localhost", "[::1]"}


def register(app: APIFlask) -> None:
    """Check every request before it is answered, and set the security headers of every answer."""
    app.config["MAX_CONTENT_LENGTH"] = BODY_LIMIT
    app.before_request(_checked)
    app.after_request(_headed)


def browser() -> str:
    """Which browser asks, by its own number."""
    return request.headers.get(BROWSER_HEADER, "")


def _checked() -> Response | None:
    g.nonce = secrets.token_urlsafe(16)
    if request.host.rsplit(":", 1)[0] not in LOOPBACK:
        return problem(403, "This server answers only to its own address on this machine.")
    if request.method in ("GET", "HEAD", "OPTIONS"):
        return None
    origin = request.headers.get("Origin")
    if origin is not None and urlsplit(origin).netloc != request.host:
        return problem(403, "This request comes from another site. Nothing was changed.")
    if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
        return problem(403, "This request comes from another site. Nothing was changed.")
    if not 8 <= len(browser()) <= 64 or not browser().isalnum():
        return problem(403, f"Changes need the header {BROWSER_HEADER}. Nothing was changed.")
    return None


def _headed(response: Response) -> Response:
    nonce = g.get("nonce", "")
    response.headers["Content-Security-Policy"] = (
        f"default-src 'none'; script-src 'self' 'nonce-{nonce}'; style-src 'self' 'nonce-{nonce}'; img-src 'self' data: blob:; "
        "font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
    )
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "no-referrer"
    response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
    response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
    response.headers["Permissions-Policy"] = "camera=(), geolocation=(), microphone=()"
    response.headers.setdefault("Cache-Control", "no-store")
    return response
