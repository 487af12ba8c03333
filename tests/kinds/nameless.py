"""A finding: items that are called after nothing."""

from __future__ import annotations

from collections.abc import Iterator

from windsock.core.findings.finding import Finding
from windsock.core.findings.survey import Survey


def find(survey: Survey) -> Iterator[Finding]:
    """Items whose name is “Thing”."""
    for key, item in survey.shot.items.items():
        if item.name == "Thing":
            yield Finding("nameless", "A thing has no name of its own. Give it one.", f"/items/{key}/name", key)
