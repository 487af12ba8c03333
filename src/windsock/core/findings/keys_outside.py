"""Keys that stand outside the frames of the shot."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, floor

from windsock.core.document.patches import Operation
from windsock.core.findings.finding import Finding, Mend, listed, number
from windsock.core.findings.survey import Survey


def find(survey: Survey) -> Iterator[Finding]:
    """Things with keys before the first frame or after the last, where no step looks; one finding for each thing."""
    frames = survey.shot.frames
    looked = [frames.first, frames.last, *(frame for one in survey.listeners for frame in one.step.frames())]
    outside: dict[str, list[float]] = {}
    for pointer, keyed in survey.plan.keyed().items():
        beyond = [key.frame for key in keyed.keys.values() if not min(looked) <= key.frame <= max(looked)]
        if beyond:
            outside.setdefault("/" + "/".join(pointer.split("/")[1:3]), []).extend(beyond)
    for place, beyond in outside.items():
        name = _name(survey, place)
        first, last = min(frames.first, floor(min(beyond))), max(frames.last, ceil(max(beyond)))
        yield Finding(
            "keys_outside",
            f"{name} has keys at {listed([number(frame) for frame in sorted(set(beyond))])}, outside the frames "
            f"{frames.first} to {frames.last}: what they lead to is not seen.",
            place,
            place.split("/")[2] if place.startswith("/items/") else None,
            Mend(
                f"Let the shot go from {first} to {last}",
                [Operation(op="replace", path="/frames", value={"first": first, "last": last})],
            ),
        )


def _name(survey: Survey, place: str) -> str:
    collection, key = [*place.split("/")[1:], ""][:2]
    if collection == "items":
        return survey.shot.items[key].name
    if collection == "fields":
        return f"{survey.shot.fields[key].letter} {survey.shot.fields[key].name}"
    return "The shot"
