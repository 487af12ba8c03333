"""JSON as it comes in: its size, its nesting and its characters are checked before anybody looks into it."""

from __future__ import annotations

import re
from typing import Any

import orjson
from flask.json.provider import DefaultJSONProvider

from windsock.core.document.limits import DEPTH, VALUES, extent_of
from windsock.core.refusals import Refusal

DEEPEST = DEPTH + 8
"""Objects and lists within each other: those of a document, and of what it is sent in."""

MOST_VALUES = 2 * VALUES

CONTROL = re.compile(
    r"(?<!\\)(?:\\\\)*\\u(?:00(?:0[0-8bBcCeEfF]|1[0-9a-fA-F]|7[fF]|[89][0-9a-fA-F])|202[89])"
    r"|(?<!\\)(?:\\\\)*\\[bf]|[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u2028\u2029]"
)
"""Control characters, as they are or escaped. Tabs and ends of lines are not among them: texts have them."""


class BadJson(Refusal):
    """JSON that is not taken."""


class CheckedJson(DefaultJSONProvider):
    """Reads the bodies of requests."""

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        """The data of a JSON text. Raises BadJson."""
        del kwargs
        try:
            text = s.decode("utf-8") if isinstance(s, bytes) else s
            refuse_control(text)
            data = orjson.loads(text)
        except ValueError:
            raise BadJson(
                "What was sent is not JSON, or holds a number that is none. Nothing was changed. Send it again as JSON."
            ) from None
        depth, count = extent_of(data, DEEPEST, MOST_VALUES)
        if count > MOST_VALUES:
            raise BadJson(
                f"What was sent holds more than {MOST_VALUES:,} values. Nothing was changed. Send less at once."
            )
        if depth > DEEPEST:
            raise BadJson(
                f"What was sent has more than {DEEPEST} lists and objects within each other. Nothing was changed. Send it flatter."
            )
        return data


def refuse_control(text: str) -> None:
    """Raise BadJson for text with control characters in it."""
    if CONTROL.search(text):
        raise BadJson("What was sent holds control characters. Nothing was changed. Take them out, and send it again.")
