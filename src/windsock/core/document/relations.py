"""What depends on what in a shot, as people need to see it: what drives, what may be measured from, what may carry."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import get_args

from pydantic import BaseModel

from windsock.core.declarations import Declared, in_order
from windsock.core.document.items import Recipe, Shape
from windsock.core.document.references import references
from windsock.core.document.shot import Shot
from windsock.core.fields import AnySource
from windsock.core.fields.field import Field
from windsock.core.steps import AnyStep
from windsock.core.timing.parameter import KeyedNumber, KeyedVector

STEPS = {kind.kind_name(): kind(rank=0).at_middles for kind in get_args(AnyStep)}
"""All kinds of steps, and whether they move pieces and copies."""


class FieldRelations(BaseModel):
    """drives: whether a step or another field depends on it. listeners: the shapes whose recipes it reaches. measures: the
    fields that it measures from, and measurable: those that it may measure from, in order. key_frames: the frames of all keys
    that move it. clauses: each in a few words, in order."""

    drives: bool
    listeners: list[str]
    measures: list[str]
    measurable: list[str]
    key_frames: list[float]
    clauses: list[str]


class StepRelations(BaseModel):
    """parts: those that are there before the step. rules: the fields that rule settings of it, beside the one that drives
    it."""

    parts: list[str]
    rules: list[str]


class ItemRelations(BaseModel):
    """leaning: the items that it can neither be carried by nor aim at, since they lean on it themselves. fields: those that
    measure from it, in order. scenery: whether it only stands there. steps: of a shape's recipe, by id. next_steps: the kinds of
    steps that a shape's recipe can go on with, those that fit it best first."""

    leaning: list[str]
    fields: list[str]
    scenery: bool
    steps: dict[str, StepRelations]
    next_steps: list[str]


class Relations(BaseModel):
    """What depends on what, for each field and item."""

    fields: dict[str, FieldRelations]
    items: dict[str, ItemRelations]


def relations(shot: Shot) -> Relations:
    """What depends on what in a shot."""
    standing = scenery(shot)
    return Relations(
        fields={key: _of_field(shot, key, field) for key, field in shot.fields.items()},
        items={
            key: ItemRelations(
                leaning=leaning_on(shot, key),
                fields=[field for field, declared in in_order(shot.fields) if key in declared.items()],
                scenery=key in standing,
                steps=_of_steps(item.recipe) if isinstance(item, Shape) else {},
                next_steps=next_steps(item.recipe) if isinstance(item, Shape) else [],
            )
            for key, item in shot.items.items()
        },
    )


def scenery(shot: Shot) -> set[str]:
    """The shapes that only stand there: without steps and keys, and nothing refers to them. Where a shot has no others, none
    are."""
    referred = {one.id for one in references(shot) if one.to == "items"}
    shapes = {key: item for key, item in shot.items.items() if isinstance(item, Shape)}
    found = {
        key
        for key, item in shapes.items()
        if key not in referred
        and item.parent is None
        and not item.recipe.steps
        and not any(True for _ in _keys_in(item))
    }
    return found if len(found) < len(shapes) else set()


def measurable(shot: Shot, field: str) -> list[str]:
    """The fields that one may measure from, in order: all but itself and those that measure from it."""
    return [key for key, _ in in_order(shot.fields) if field not in shot.fields_behind(key)]


def leaning_on(shot: Shot, item: str) -> list[str]:
    """An item, and those that are carried by it or aim at it, by themselves or through others, in order."""
    found = {item}
    more = True
    while more:
        more = {key for key, one in shot.items.items() if key not in found and {one.parent, one.aim} & found}
        found |= more
    return [key for key, _ in in_order(shot.items) if key in found]


def needed_for(shot: Shot, shape: str) -> set[str]:
    """A shape, and those whose finished recipes its own needs, by itself or through others."""
    needs, found, waiting = shot.shape_needs(), set[str](), [shape]
    while waiting:
        one = waiting.pop()
        if one not in found:
            found.add(one)
            waiting += needs.get(one, ())
    return found


def carriers_of(shot: Shot, item: str) -> list[str]:
    """The items that may carry one, in order."""
    leaning = leaning_on(shot, item)
    return [key for key, _ in in_order(shot.items) if key not in leaning]


def parts_before(recipe: Recipe, step: str) -> list[str]:
    """The parts that are there before a step, in the order in which they come."""
    parts = ["body"]
    for key, one in in_order(recipe.steps):
        if key == step:
            break
        made = one.made()
        if made is not None and made not in parts:
            parts.append(made)
    return parts


def next_steps(recipe: Recipe) -> list[str]:
    """The kinds of steps that a recipe can go on with. Those that move pieces and copies come first where there are such, and
    last where there are none."""
    bodies = any(step.makes_bodies for step in recipe.steps.values() if step.on)
    return sorted(STEPS, key=lambda kind: STEPS[kind] != bodies)


def _of_steps(recipe: Recipe) -> dict[str, StepRelations]:
    return {
        key: StepRelations(parts=parts_before(recipe, key), rules=list(step.fields()))
        for key, step in recipe.steps.items()
    }


def _of_field(shot: Shot, key: str, field: Field) -> FieldRelations:
    reached = [
        item for item, recipe in _recipes(shot) if any(key in shot.fields_behind(one) for one in _listened(recipe))
    ]
    heard = any(key in _listened(recipe) for _, recipe in _recipes(shot))

    return FieldRelations(
        drives=heard or any(key in other.fields() for other in shot.fields.values()),
        listeners=reached,
        measures=list(field.fields()),
        measurable=measurable(shot, key),
        key_frames=sorted(set(_frames_of(shot, field, reached, set()))),
        clauses=[source.briefly(_names(shot, source)) for _, source in in_order(field.sources)],
    )


def _names(shot: Shot, source: AnySource) -> Callable[[str], str]:
    """Names what a source measures from. The same id may be that of a field, of an item and of a group."""

    def name(thing: str) -> str:
        if thing in source.fields():
            return shot.fields[thing].letter
        return shot.groups[thing].name if thing in source.groups() else shot.items[thing].name

    return name


def _recipes(shot: Shot) -> Iterator[tuple[str, Recipe]]:
    for key, item in in_order(shot.items):
        if isinstance(item, Shape):
            yield key, item.recipe


def _listened(recipe: Recipe) -> set[str]:
    """The fields that the steps of a recipe depend on, those left out that are off."""
    return {field for step in recipe.steps.values() if step.on for field in recipe.listened(step)}


def _frames_of(shot: Shot, field: Field, reached: list[str], seen: set[str]) -> Iterator[float]:
    """The frames of the keys of a field, of its clauses, of where the items stand that it measures from, and of steps that eat those.
    reached: the shapes whose recipes it reaches."""
    yield from _keys_in(field)
    for shape, asked in field.fronts_of():
        for subject in reached if shape is None else [shape]:
            item = shot.items[subject]
            steps = item.recipe.steps if isinstance(item, Shape) else {}
            eating = [step for key, step in steps.items() if step.on and step.sends_front and asked in (None, key)]
            yield from (frame for step in eating for frame in _keys_in(step))
    members = [member for group in field.groups() for member in shot.groups[group].members]
    for item in (*field.items(), *members):
        yield from _keys_in(_standing(shot, item))
    for other in field.fields():
        if other not in seen:
            seen.add(other)
            yield from _frames_of(shot, shot.fields[other], reached, seen)


def _standing(shot: Shot, key: str) -> object:
    """Where an item stands and how it is made; not what its recipe does."""
    item = shot.items[key]
    return [item.place, item.turn, item.scale, item.geometry] if isinstance(item, Shape) else item


def _keys_in(thing: object) -> Iterator[float]:
    if isinstance(thing, (KeyedNumber, KeyedVector)):
        yield from (key.frame for key in thing.keys.values())
    elif isinstance(thing, Declared):
        for name in type(thing).model_fields:
            yield from _keys_in(getattr(thing, name))
    elif isinstance(thing, (list, dict)):
        for one in thing.values() if isinstance(thing, dict) else thing:  # pyright: ignore
            yield from _keys_in(one)  # pyright: ignore[reportUnknownArgumentType]
