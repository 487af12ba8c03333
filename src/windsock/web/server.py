"""The web server: `python -m windsock.web.server PORT`; where things are is told in its environment.

Requests are read whole before a thread is given to them, so that one who sends slowly holds nobody up; one that is given
up by its browser is noticed while it is worked on.
"""

from __future__ import annotations

import argparse
import json
import logging
import os
import signal
from typing import Any

from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import create_server
from waitress.utilities import Error, RequestEntityTooLarge

from windsock.formats.limits import FILE_LIMIT
from windsock.formats.project import PACKED_LIMIT
from windsock.processes.standby import wait_for_turn
from windsock.web.app import from_environment

THREADS = 24
OUTGOING = 512 * 2**20
"""Bytes of an answer that are held in memory until its reader has them."""


class TooLarge(Error):
    """The answer to a request that is larger than any that is taken."""

    code = 413
    reason = "Request Entity Too Large"

    def to_response(self, ident: str | None = None) -> Any:
        """As the application itself answers."""
        del ident
        body = {
            "type": "about:blank",
            "title": "This is too large",
            "status": self.code,
            "detail": "What was sent is larger than is taken here. Nothing was changed. Send something smaller.",
        }
        return f"{self.code} {self.reason}", [("Content-Type", "application/problem+json")], json.dumps(body).encode()


class Parser(HTTPRequestParser):
    """Reads requests; one that is too large is refused in words, unread."""

    def received(self, data: bytes) -> int:
        """See the class it is made from."""
        taken = super().received(data)
        if isinstance(self.error, RequestEntityTooLarge):
            self.error = TooLarge("")
        return taken


class Channel(HTTPChannel):
    """A connection that reads so."""

    parser_class = Parser


def main() -> None:
    """Serve until the process is ended."""
    given = argparse.ArgumentParser()
    given.add_argument("port", type=int)
    asked = given.parse_args()
    logging.basicConfig(level=logging.INFO, format="web: %(message)s")
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    app = from_environment()
    wait_for_turn()
    server = create_server(
        app,
        host="127.0.0.1",
        port=asked.port,
        threads=THREADS,
        connection_limit=1000,
        channel_timeout=30,
        cleanup_interval=5,
        channel_request_lookahead=1,
        asyncore_use_poll=True,
        max_request_header_size=32 * 2**10,
        max_request_body_size=2 * max(FILE_LIMIT, PACKED_LIMIT),
        outbuf_overflow=OUTGOING,
        outbuf_high_watermark=OUTGOING,
        ident="Wind Sock",
        clear_untrusted_proxy_headers=True,
    )
    server.channel_class = Channel  # pyright: ignore
    # What is under way is given up: edits are transactions, and pages ask again.
    signal.signal(signal.SIGTERM, lambda *_: os._exit(0))
    server.run()


if __name__ == "__main__":
    main()
