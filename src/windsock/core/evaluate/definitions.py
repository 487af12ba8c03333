"""What a document says, over the whole shot, of what an evaluation asks after: what a history depends on."""

from __future__ import annotations

from collections.abc import Callable
from typing import cast

from pydantic import JsonValue

from windsock.core.declarations import in_order
from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.reads import Question

JOINING = {"rank", "word", "amount", "inverted", "curve"}
"""What of a source says how it is joined, not what it measures."""

TICKING: Question = ("ticks",)
"""Asks after the ticks in a second through which is marched."""


VOXELS: Question = ("voxels",)
"""Asks whether volumes have larger voxels than they will have."""

GOES_ON = "goes on"
"""In a definition: whether the answer changes from moment to moment though nothing is keyed."""


class Definitions:
    """Answers for one shot; each is made once."""

    def __init__(self, shot: Shot, ticks: int, draft: bool = False) -> None:
        """ticks: those in a second through which is marched; draft: whether volumes have larger voxels."""
        self._shot = shot
        self.ticks, self.draft = ticks, draft
        self._found: dict[Question, JsonValue] = {}
        self._changing: dict[Question, bool] = {}

    def of(self, question: Question) -> JsonValue:
        """What the document says of what a question asks after; raises KeyError where it is not there."""
        if question == TICKING:
            return self.ticks
        if question == VOXELS:
            return self.draft
        if question not in self._found:
            define = DEFINED[str(question[0])]
            self._found[question] = define(self._shot, *cast(tuple[str, ...], question[1:]))
        return self._found[question]

    def changes(self, question: Question) -> bool:
        """Whether the answer to a question may be another from moment to moment."""
        if question[0] in ("then", "defined"):
            return self.changes(question[2:] if question[0] == "then" else question[1:])
        if question[0] not in DEFINED:
            return question[0] == "second"
        if question not in self._changing:
            definition = self.of(question)
            goes_on = question[0] in ("travelled", "gone", "looped") and definition != 0
            self._changing[question] = goes_on or has_keys(definition)
        return self._changing[question]


def has_keys(definition: JsonValue) -> bool:
    """Whether anything in a definition is keyed, or goes on without keys."""
    if isinstance(definition, dict):
        return (
            definition.get(GOES_ON) is True
            or isinstance(definition.get("keys"), dict)
            or any(has_keys(one) for one in definition.values())
        )
    return isinstance(definition, list) and any(has_keys(one) for one in definition)


def _source(shot: Shot, field: str, source: str) -> JsonValue:
    return shot.fields[field].sources[source].model_dump(mode="json", exclude=JOINING)


def _sentence(shot: Shot, field: str) -> JsonValue:
    declared = shot.fields[field]
    joined: JsonValue = [[key, one.model_dump(mode="json", include=JOINING)] for key, one in in_order(declared.sources)]
    return [joined, None if declared.memory is None else declared.memory.model_dump(mode="json")]


def _level(shot: Shot, field: str) -> JsonValue:
    return shot.fields[field].model_dump(mode="json", include={"level"})


def _band(shot: Shot, field: str) -> JsonValue:
    return shot.fields[field].model_dump(mode="json", include={"band", "band_in"})


def _setting(shot: Shot, field: str, source: str, name: str) -> JsonValue:
    setting: JsonValue = shot.fields[field].sources[source].model_dump(mode="json")[name]
    return setting


def _placement(shot: Shot, item: str) -> JsonValue:
    own = shot.items[item].model_dump(mode="json", include={"place", "turn", "scale", "pivot"})
    return [own, _leaning(shot, item)]


def _leaning(shot: Shot, item: str) -> JsonValue:
    """How what carries an item, and what it aims at, stand."""
    thing = shot.items[item]
    found: list[JsonValue] = [thing.parent is not None]
    if thing.springs is not None:
        found.append(thing.springs.model_dump(mode="json"))
        found.append(_timing(shot))
    if thing.along is not None and thing.parent is not None:
        found.append(thing.along.model_dump(mode="json"))
        found.append(shot.items[thing.parent].model_dump(mode="json", include={"points", "closed", "scale", "pivot"}))
        found.append({GOES_ON: thing.along.goes_on})
        found.append(_timing(shot))
    for other in (thing.parent, thing.aim):
        if other is not None:
            found.append(shot.items[other].model_dump(mode="json", include={"place", "turn"}))
            found.append(_leaning(shot, other))
    return found


def _camera(shot: Shot) -> JsonValue:
    return None if shot.camera is None else _placement(shot, shot.camera)


def _course(shot: Shot, path: str) -> JsonValue:
    return shot.items[path].model_dump(mode="json", include={"points", "closed"})


def _geometry(shot: Shot, item: str) -> JsonValue:
    return shot.items[item].model_dump(mode="json", include={"geometry", "fineness"})


def _look(shot: Shot, item: str) -> JsonValue:
    return shot.items[item].model_dump(mode="json", include={"look"})


def _retime(shot: Shot, item: str) -> JsonValue:
    return _shape(shot, item).recipe.model_dump(mode="json", include={"retime"})


def _steps(shot: Shot, item: str) -> JsonValue:
    return [
        [key, step.kind, step.on, step.part, step.made()] for key, step in in_order(_shape(shot, item).recipe.steps)
    ]


def _step(shot: Shot, item: str, step: str, name: str) -> JsonValue:
    return _shape(shot, item).recipe.steps[step].model_dump(mode="json", include={name})


def _gone(shot: Shot, item: str, step: str, name: str) -> JsonValue:
    return _shape(shot, item).recipe.steps[step].model_dump(mode="json", include={name})[name]


def _driving(shot: Shot, item: str, step: str) -> JsonValue:
    recipe = _shape(shot, item).recipe
    return list(recipe.driving(recipe.steps[step]))


def _group(shot: Shot, group: str, but: str) -> JsonValue:
    return [shape for shape in shot.shapes_of(group) if shape != but]


def _timing(shot: Shot) -> JsonValue:
    return [shot.frames.model_dump(mode="json"), shot.rate.model_dump(mode="json")]


DEFINED: dict[str, Callable[..., JsonValue]] = {
    "source": _source,
    "sentence": _sentence,
    "level": _level,
    "band": _band,
    "travelled": _setting,
    "gone": _gone,
    "looped": _setting,
    "setting": _setting,
    "placement": _placement,
    "camera": _camera,
    "course": _course,
    "geometry": _geometry,
    "look": _look,
    "retime": _retime,
    "retimed": _retime,
    "steps": _steps,
    "step": _step,
    "driving": _driving,
    "group": _group,
    "timing": _timing,
}
"""By the name of a question: what the document says of what it asks after."""


def _shape(shot: Shot, item: str) -> Shape:
    shape = shot.items[item]
    if not isinstance(shape, Shape):
        raise KeyError(item)
    return shape
