"""What of a shot does not hold together: references to what is not there or is of another kind, and circles."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from graphlib import CycleError, TopologicalSorter
from typing import TYPE_CHECKING

from windsock.core.declarations import in_order
from windsock.core.document.items import Camera, Controller, Path, Shape
from windsock.core.document.references import referring
from windsock.core.fields.source import FrontOf

if TYPE_CHECKING:
    from windsock.core.document.shot import Shot


def complaints(shot: Shot) -> Iterator[str]:
    """In words, what of a shot does not hold together; nothing where all does. After the first of some kinds the others are not looked for,
    as they could not be told apart from it."""
    if shot.camera is not None and not isinstance(shot.items.get(shot.camera), Camera):
        yield f"the shot's camera “{shot.camera}” is not a camera of the shot"
    for item in shot.items.values():
        if item.parent is not None and item.parent not in shot.items:
            yield f"{item.name} is carried by “{item.parent}”, which is not in the shot"
            return
    for item in shot.items.values():
        if item.aim is not None and item.aim not in shot.items:
            yield f"{item.name} aims at “{item.aim}”, which is not in the shot"
            return
    for item in shot.items.values():
        if isinstance(item, Camera) and item.focus_on is not None and item.focus_on not in shot.items:
            yield f"{item.name} keeps “{item.focus_on}” sharp, which is not in the shot"
            return
    leans = {key: [one for one in (item.parent, item.aim) if one] for key, item in shot.items.items()}
    if circle := _circle_in(leans):
        chain = " → ".join(shot.items[item].name for item in circle)
        yield f"the items carry or aim at each other in a circle, {chain}"
        return
    for item in shot.items.values():
        for path in item.geometry.paths() if isinstance(item, Shape) else ():
            if not isinstance(shot.items.get(path), Path):
                yield f"{item.name} is swept along “{path}”, which is not a path of the shot"
                return
    letters = [field.letter for field in shot.fields.values()]
    if len(set(letters)) != len(letters):
        yield "two fields have the same letter"
    for field in shot.fields.values():
        for other in field.fields():
            if other not in shot.fields:
                yield f"field {field.letter} measures from the field “{other}”, which is not in the shot"
                return
    if circle := _circle_in({field_id: field.fields() for field_id, field in shot.fields.items()}):
        chain = " → ".join(shot.fields[field].letter for field in circle)
        yield f"the fields go round in a circle, {chain}: each would have to be known before the other"
    for field in shot.fields.values():
        for item in field.items():
            if not isinstance(shot.items.get(item), Controller):
                yield f"field {field.letter} measures from “{item}”, which is not a controller of the shot"
    for group in shot.groups.values():
        for item in group.members:
            if item not in shot.items:
                yield f"the group {group.name} has the member “{item}”, which is not an item of the shot"
                return
    for field in shot.fields.values():
        for group in field.groups():
            if group not in shot.groups:
                yield f"field {field.letter} measures from the group “{group}”, which is not in the shot"
                return
    for field in shot.fields.values():
        for shape, _ in field.fronts_of():
            if shape is not None and not isinstance(shot.items.get(shape), Shape):
                yield f"field {field.letter} asks what is eaten of “{shape}”, which is no shape of the shot"
                return
    yield from _of_finishing(shot)
    yield from _of_layers(shot)
    for item in shot.items.values():
        if isinstance(item, Shape):
            yield from _of_recipe(shot, item)
    if any(True for item in shot.items.values() if isinstance(item, Shape) for _ in _of_recipe(shot, item)):
        return
    if circle := _circle_in(shot.shape_needs()):
        chain = " → ".join(shot.items[item].name for item in circle)
        yield f"the shapes go round in a circle, {chain}: each is measured from what the other's recipe leaves"
    yield from _of_fronts(shot)


def _of_fronts(shot: Shot) -> Iterator[str]:
    """Steps that listen to what they eat themselves, or a step after them does."""
    for key, item in shot.items.items():
        steps = [one for one in in_order(item.recipe.steps) if one[1].on] if isinstance(item, Shape) else []
        for place, (step_id, step) in enumerate(steps):
            for field in item.recipe.listened(step) if isinstance(item, Shape) else ():
                asked = {front.step for front in _fronts_behind(shot, field) if front.shape in (None, key)}
                late = [one for one in steps[place:] if one[1].sends_front and {None, one[0]} & asked]
                if late:
                    what = "itself" if late[-1][0] == step_id else "a later step"
                    yield (
                        f"the step {step.named()} of {item.name} listens to {shot.fields[field].letter}, which says what {what} "
                        f"eats: have a step after {late[-1][1].named()} listen to it, or let the field ask what another step eats"
                    )
                    return


def _fronts_behind(shot: Shot, field: str) -> set[FrontOf]:
    """The fronts that a field asks after, by itself or through other fields."""
    return {front for one in shot.fields_behind(field) for front in shot.fields[one].fronts_of()}


def _of_layers(shot: Shot) -> Iterator[str]:
    """What layers refer to that is not there."""
    for layer in shot.layers.values():
        for item in layer.items:
            if item not in shot.items:
                yield f"the layer {layer.name} has “{item}”, which is not an item of the shot"
    if shot.pictured is not None and shot.pictured not in shot.layers:
        yield f"pictures show the layer “{shot.pictured}”, which is not in the shot"


def _of_finishing(shot: Shot) -> Iterator[str]:
    """What the finishing of the picture refers to that is not there."""
    for step in shot.finishing.values():
        for name, (to, _) in referring(type(step)).items():
            named = getattr(step, name)
            if named is not None and named not in getattr(shot, to):
                what = {"items": "an item", "fields": "a field"}[to]
                yield f"the finishing step {step.named()} names “{named}”, which is not {what} of the shot"
        item = shot.items.get(step.item) if step.item is not None else None
        if step.part is not None and not (isinstance(item, Shape) and step.part in item.recipe.parts):
            yield f"the finishing step {step.named()} is on the part “{step.part}”, which its item does not have"


def _of_recipe(shot: Shot, shape: Shape) -> Iterator[str]:
    """What the recipe of a shape refers to that is not there."""
    if "body" not in shape.recipe.parts:
        yield f"the recipe of {shape.name} has no body"
    if shape.recipe.overall is not None and shape.recipe.overall not in shot.fields:
        yield f"the recipe of {shape.name} counts by the field “{shape.recipe.overall}”, which is not in the shot"
    for step in shape.recipe.steps.values():
        if step.field is not None and step.field not in shot.fields:
            yield f"a step of {shape.name} listens to the field “{step.field}”, which is not in the shot"
        for field in step.fields():
            if field not in shot.fields:
                yield f"a step of {shape.name} listens to the field “{field}”, which is not in the shot"
        for item in step.items():
            if not isinstance(shot.items.get(item), (Controller, Path)):
                yield f"a step of {shape.name} reads “{item}”, which is no controller or path of the shot"
        for path in step.paths():
            if not isinstance(shot.items.get(path), Path):
                yield f"a step of {shape.name} follows “{path}”, which is no path of the shot"
        for group in step.groups():
            if group not in shot.groups:
                yield f"a step of {shape.name} reads the group “{group}”, which is not in the shot"
        for other in step.shapes():
            if not isinstance(shot.items.get(other), Shape):
                yield f"a step of {shape.name} copies “{other}”, which is no shape of the shot"
        made = step.made()
        if made is not None and (made == step.part or made not in shape.recipe.parts):
            yield f"a step of {shape.name} makes the part “{made}”, which its recipe does not have beside the one it takes"
        if step.part not in shape.recipe.parts:
            yield f"a step of {shape.name} takes the part “{step.part}”, which its recipe does not have"


def _circle_in(needs: Mapping[str, Iterable[str]]) -> list[str]:
    """Names that lead back to the first of them, or nothing."""
    try:
        TopologicalSorter(needs).prepare()
    except CycleError as circle:
        return list(circle.args[1])
    return []
