"""How long it takes to find what a frame needs of the past and is not kept yet."""

from __future__ import annotations

from itertools import takewhile

from windsock.core.declarations import in_order
from windsock.core.document.items import Recipe, Shape
from windsock.core.evaluate.bounds import SECONDS_A_FRONT, SECONDS_A_TICK
from windsock.core.evaluate.history import front_name
from windsock.core.evaluate.inputs import Place
from windsock.core.evaluate.marching import ticks_to_walk
from windsock.core.evaluate.nodes import crossed_node, solved_node, source_history_node
from windsock.core.evaluate.plan import SECONDS_A_LOOK, in_metres
from windsock.core.evaluate.recipes import Recipes
from windsock.core.evaluate.scene import SceneAt
from windsock.core.fields.marched import MarchedSource
from windsock.core.fields.source import HistorySource, SolvedSource
from windsock.core.steps.march import MarchedStep
from windsock.core.steps.step import SolvedStep
from windsock.core.timing.ticks import TICKS


def seconds_to_find(recipes: Recipes, scene: SceneAt) -> float:
    """About how many seconds it takes to find what this moment needs of the past and is not kept yet. Raises TooMuch where a step would
    have to solve more than can be."""
    total = 0.0
    for item, shape in in_order(scene.shot.items):
        if not isinstance(shape, Shape):
            continue
        seen: set[str] = set()
        points = len(recipes.at_rest(scene, item).value.mesh.points)
        for step_id, step in in_order(shape.recipe.steps):
            if step.on:
                fields = shape.recipe.listened(step)
                total += sum(_field(recipes, scene, field, item, points, seen) for field in fields)
                total += _step(recipes, scene, item, step_id, points)
    return total


def _step(recipes: Recipes, scene: SceneAt, item: str, step_id: str, points: int) -> float:
    """What a step has to march and to solve, without the past of its fields."""
    recipe = scene.shape(item).recipe
    step = recipe.steps[step_id]
    looking = sum(scene.plan.looking(field, points) for field in recipe.listened(step))
    if isinstance(step, MarchedStep):
        place = Place(recipes, scene, item, step_id, recipes.untouched(scene, item))
        ticks = ticks_to_walk(recipes.march(place), scene.at.seconds, recipes.results)
        return ticks * (points * SECONDS_A_TICK + SECONDS_A_LOOK + looking)
    if not isinstance(step, SolvedStep) or recipes.results.was_solved(solved_node(item, step_id), scene.answer):
        return 0.0
    lasts = scene.plan.ticks() / TICKS
    mesh, matrix = recipes.at_rest(scene, item).value.mesh, scene.placement(item)
    if _takes_all(recipe, step_id):
        step.refuse_too_much(in_metres(mesh, matrix))
    return scene.plan.solving(item, step_id, mesh, matrix) + lasts * step.looks * looking


def _takes_all(recipe: Recipe, step_id: str) -> bool:
    """Whether a step takes the whole shape, wherever its points are by then, so that nothing before it makes less of it."""
    before = takewhile(lambda entry: entry[0] != step_id, in_order(recipe.steps))
    kept = all(one.leaves != "nothing" for _, one in before if one.on and one.part == "body")
    return kept and recipe.steps[step_id].part == "body"


def _field(recipes: Recipes, scene: SceneAt, field: str, item: str, points: int, seen: set[str]) -> float:
    """What a field needs of the past."""
    if field in seen:
        return 0.0
    seen.add(field)
    declared, plan, results = scene.shot.fields[field], scene.plan, recipes.results
    total = sum(_field(recipes, scene, other, item, points, seen) for other in declared.fields())
    if declared.memory is not None:
        ticks = ticks_to_walk(recipes.memory(scene, field, item), scene.at.seconds, results)
        total += ticks * plan.looking(field, points)
    for key, source in declared.sources.items():
        if isinstance(source, MarchedSource):
            ticks = ticks_to_walk(recipes.source_march(scene, field, key, item), scene.at.seconds, results)
            looking = sum(plan.looking(other, points) for other in source.fields())
            total += ticks * (points * SECONDS_A_TICK + SECONDS_A_LOOK + looking)
        if isinstance(source, HistorySource):
            node = source_history_node(field, key, item)
            total += 0.0 if results.was_solved(node, scene.answer) else source.solving(points, plan.ticks() / TICKS)
        if isinstance(source, SolvedSource) and results.found(front_name(field, key, item), scene.answer) is None:
            total += points * SECONDS_A_FRONT
        for other in source.crossings():
            if results.found(crossed_node(other, item), scene.answer) is None:
                total += plan.ticks() * plan.looking(other, points)
    return total
