"""Where errors become words: problem details (RFC 9457) for everything that goes wrong."""

from __future__ import annotations

import errno
import logging

from apiflask import APIFlask
from apiflask.exceptions import HTTPError
from flask import Response, json
from pydantic import JsonValue
from sqlalchemy.exc import DataError, DBAPIError, IntegrityError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from werkzeug.exceptions import HTTPException

from windsock.core.document.shot import BadDocument
from windsock.core.refusals import Cancelled, MissingAsset, Refusal, TooMuch
from windsock.protocol.client import EvaluatorAway
from windsock.store.editing import ChangedSince, NotFound, StaleEdit

log = logging.getLogger("windsock.web")

TITLES = {
    400: "This cannot be read",
    403: "This is not allowed",
    404: "This is not here",
    405: "This is not how it is asked",
    409: "This was changed since",
    412: "This was changed elsewhere",
    413: "This is too large",
    415: "This kind is not read here",
    422: "This cannot be done",
    428: "The revision is missing",
    429: "Too much at once",
    499: "A newer wish replaced this one",
    500: "Something went wrong here",
    503: "Wait a moment",
    507: "There is no room left",
}

STATUS: list[tuple[type[Refusal], int]] = [
    (EvaluatorAway, 503),
    (StaleEdit, 412),
    (ChangedSince, 409),
    (NotFound, 404),
    (MissingAsset, 404),
    (TooMuch, 413),
    (BadDocument, 422),
    (Refusal, 422),
]


def problem(status: int, detail: str, **more: JsonValue) -> Response:
    """A reply that says what is wrong, what is unharmed and what to do."""
    body = {
        "type": "about:blank",
        "title": TITLES.get(status, "Something went wrong"),
        "status": status,
        "detail": detail,
    }
    response = Response(json.dumps(body | more), status=status, content_type="application/problem+json")
    if status in (429, 503):
        response.headers["Retry-After"] = "1"
    return response


def register(app: APIFlask) -> None:
    """Turn every error of the application into problem details."""
    app.register_error_handler(Refusal, _refused)
    app.register_error_handler(Cancelled, lambda _: problem(499, "A newer wish replaced this one."))
    app.register_error_handler(PoolTimeout, _database)
    app.register_error_handler(DBAPIError, _database)
    app.register_error_handler(OSError, _file_system)
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(Exception, _unexpected)
    app.error_processor(_invalid)


def _refused(refusal: Refusal) -> Response:
    status = next(status for kind, status in STATUS if isinstance(refusal, kind))
    if isinstance(refusal, StaleEdit):
        clashes: JsonValue = [{"path": c.path, "yours": c.yours, "theirs": c.theirs} for c in refusal.clashes]
        return problem(status, str(refusal), revision=refusal.revision, clashes=clashes)
    if isinstance(refusal, BadDocument):
        return problem(status, str(refusal), places=[{"path": path, "detail": what} for path, what in refusal.places])
    return problem(status, str(refusal))


NO_ROOM = "There is no room left on the disk. What was saved is unharmed; this change was not made. Make room, then do it again."
FULL = {"53100", "58030"}
"""PostgreSQL's codes for a full disk, and for one that cannot be written."""


def _database(fault: Exception) -> Response:
    """By PostgreSQL's code: no room; a value that the database refuses; otherwise it is away."""
    code = getattr(getattr(fault, "orig", None), "sqlstate", None) or ""
    log.warning("database: %s %s", type(fault).__name__, code)
    if code in FULL:
        return problem(507, NO_ROOM)
    if code[:2] in ("21", "22", "23") or isinstance(fault, (DataError, IntegrityError)):
        return problem(
            422, "The database does not take a value of this. Nothing was changed. Try it with other words or numbers."
        )
    return problem(
        503,
        "The database does not answer. What was saved is unharmed, and your change is kept in the page and sent again by itself.",
    )


def _file_system(fault: OSError) -> Response:
    log.error("file system: %s", fault)
    if fault.errno in (errno.ENOSPC, errno.EDQUOT):
        return problem(507, NO_ROOM)
    return problem(
        500,
        f"A file could not be written or read: {fault.strerror or 'unknown'}. Saved work is unharmed. Look at the disk and "
        "the rights of the data folder.",
    )


def _http(fault: HTTPException) -> Response:
    code = fault.code or 500
    return problem(code, HTTP_WORDS.get(code, fault.description or "Nothing was changed."))


HTTP_WORDS = {
    404: "There is nothing at this address.",
    405: "This address does not take this kind of request.",
    413: "What was sent is larger than is taken here. Nothing was changed. Send something smaller.",
    415: "This needs JSON. Nothing was changed.",
    400: "What was sent could not be read. Nothing was changed.",
}


def _unexpected(fault: Exception) -> Response:
    log.exception("unexpected", exc_info=fault)
    return problem(
        500,
        "Something went wrong here. Saved work is unharmed. Load the page again; if it comes back, try another value.",
    )


def _invalid(fault: HTTPError) -> Response:
    """What the checks of a request's shape found, as words."""
    found = _leaves(fault.detail)
    detail = "; ".join(found[:3]) or HTTP_WORDS.get(fault.status_code, fault.message)
    return problem(fault.status_code, f"{detail}. Nothing was changed." if found else detail)


def _leaves(detail: object, where: str = "") -> list[str]:
    if isinstance(detail, dict):
        return [leaf for key, value in detail.items() for leaf in _leaves(value, str(key))]
    if isinstance(detail, list):
        return [leaf for value in detail for leaf in _leaves(value, where)]
    return [f"{where}: {detail}"]
