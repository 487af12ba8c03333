"""Sources and steps that depend on what was before may look at anything that others may, and may solve something as well."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, cast

import numpy as np
import orjson
import pytest
from pydantic import Field as Limits
from shots import evaluator

from windsock.core.declarations import Id
from windsock.core.document.items import Camera, Controller, Path, Recipe, Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.bounds import estimate
from windsock.core.evaluate.estimates import seconds_to_find
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.measured import PosedMesh
from windsock.core.fields import AnySource
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.field import Field
from windsock.core.fields.marched import MarchedSource, SourceTick
from windsock.core.fields.source import Scene
from windsock.core.geometry.placement import moved
from windsock.core.geometry.solution import Solution
from windsock.core.parts.part import Part
from windsock.core.steps import AnyStep
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.steps.march import MarchedStep, Tick
from windsock.core.steps.step import SolvedStep
from windsock.core.timing.parameter import NumberParameter
from windsock.core.timing.ticks import State

MOVES = {"keys": {"a": {"frame": 0, "value": [-1.2, 0, 0]}, "b": {"frame": 12, "value": [0.6, 0.3, 0]}}}
SLOWER = {"keys": {"a": {"frame": 0, "value": 0.05}, "b": {"frame": 12, "value": 0.4}}}


class Lag(MarchedSource):
    """How near a controller is, coming after by a time constant."""

    kind: Literal["lag"] = "lag"
    controller: Id
    slowness: NumberParameter = 0.1

    def items(self) -> tuple[str, ...]:
        return (self.controller,)

    def begin(self, tick: SourceTick) -> State:
        return {"value": self._near(tick)}

    def advance(self, state: State, before: SourceTick, now: SourceTick) -> State:
        left = np.exp(-(now.scene.seconds - before.scene.seconds) / now.scene.at(self.slowness))
        near = self._near(now)
        return {"value": near + (state["value"] - near) * left}

    def _near(self, tick: SourceTick) -> Values:
        place = tick.scene.placement(self.controller)[:3, 3]
        return np.clip(1 - np.linalg.norm(tick.elements.posed - place, axis=1), 0, 1)

    def measure(self, elements: Elements, scene: Scene) -> Values:
        return elements.carry(scene.marched(elements.subject)["value"])


@dataclass(frozen=True, eq=False)
class Heights(Solution):
    """(n,) how high each point rests, from 0 to 1."""

    share: Values


class Tow(MarchedStep, SolvedStep):
    """Points go with a controller, the higher they rest the more."""

    kind: Literal["tow"] = "tow"
    solution: ClassVar[type[Solution]] = Heights
    controller: Id

    def items(self) -> tuple[str, ...]:
        return (self.controller,)

    @property
    def leaves(self) -> Literal["points"]:
        return "points"

    def solve(self, given: SolveInputs) -> Heights:
        height = given.mesh().rest[:, 1].astype(np.float64)
        return Heights((height - height.min()) / max(np.ptp(height), 1e-9))

    def begin(self, tick: Tick) -> State:
        return {"shift": np.zeros((len(tick.mesh.points), 3))}

    def advance(self, state: State, before: Tick, now: Tick) -> State:
        went = (now.given.placement(self.controller) - before.given.placement(self.controller))[:3, 3]
        share = cast(Heights, now.given.solution).share * before.weight
        return {"shift": state["shift"] + share[:, None] * went}

    def apply(self, part: Part, given: StepInputs) -> Part:
        state, _ = given.marched()
        back = np.linalg.inv(given.matrix)
        changed = bool(state["shift"].any())
        return part.deformed(
            lambda mesh: moved(moved(mesh.points, given.matrix) + mesh.carried(state["shift"], 0), back).astype("f4"),
            changed,
        )


class FieldOf(Field):
    sources: Annotated[dict[Id, Annotated[AnySource | Lag, Limits(discriminator="kind")]], Limits(max_length=32)]


class RecipeOf(Recipe):
    steps: dict[Id, Annotated[AnyStep | Tow, Limits(discriminator="kind")]] = {}


class ShapeOf(Shape):
    recipe: RecipeOf = RecipeOf()


class ShotOf(Shot):
    items: dict[Id, Annotated[ShapeOf | Controller | Path | Camera, Limits(discriminator="kind")]]
    fields: dict[Id, FieldOf] = {}


def shot_of(steps: list[dict], slowness: object = 0.1, **item: object) -> ShotOf:
    ball = {"kind": "sphere", "radius": 0.5, "subdivisions": 2}
    named = {f"s{rank}": step | {"rank": rank} for rank, step in enumerate(steps)}
    sources = {"s": {"kind": "lag", "controller": "fog", "slowness": slowness}}
    plain: dict[str, object] = {
        "name": "Any",
        "frames": {"last": 24},
        "items": {
            "it": {"kind": "shape", "name": "It", "rank": 0, "geometry": ball, "recipe": {"steps": named}} | item,
            "fog": {"kind": "controller", "name": "Fog", "rank": 1, "place": MOVES},
        },
        "fields": {"late": {"letter": "A", "name": "Late", "rank": 0, "sources": sources}},
    }
    return ShotOf.model_validate_json(orjson.dumps(plain))


def test_a_source_follows_late_by_its_time_constant():
    """Against the response of a first-order lag to what was, summed up finely (common practice)."""
    shot = shot_of([{"kind": "shade", "field": "late"}])
    one = evaluator()
    for frame in (17.5, 3, 24):
        scene = one.scene(shot, frame)
        posed = PosedMesh(
            one.at_rest(scene, "it").value.mesh, "", scene.placement("it"), one.at_rest(scene, "it").value
        )
        values = one.field_values(scene, "late", posed.elements())
        places = posed.elements().posed
        late = None
        for second in np.linspace(0, frame / 24, 4001):
            fog = shot.placement("fog", shot.moment(second * 24))[:3, 3]
            near = np.clip(1 - np.linalg.norm(places - fog, axis=1), 0, 1)
            late = near if late is None else near + (late - near) * np.exp(-(frame / 24 / 4000) / 0.1)
        assert values == pytest.approx(late, abs=0.02)
        assert late.max() > 0.02


def test_a_step_may_be_marched_and_solved_and_look_at_other_items():
    shot = shot_of([{"kind": "tow", "controller": "fog"}])
    plain = shot_of([])
    for frame in (20, 5, 11.5):
        (towed,), (rest,) = (evaluator().frame(one, frame).draw for one in (shot, plain))
        went = (shot.placement("fog", shot.moment(frame)) - shot.placement("fog", shot.moment(0)))[:3, 3]
        share = (rest.body.mesh.rest[:, 1] + 0.5)[:, None]
        np.testing.assert_allclose(towed.body.mesh.points - rest.body.mesh.points, share * went, atol=1e-5)


def frame_bytes(one: Evaluator, shot: Shot, frame: float) -> bytes:
    return b"".join(item.body.mesh.points.tobytes() for item in one.frame(shot, frame).draw)


def test_after_any_edit_they_answer_as_a_fresh_process_does():
    tow = {"kind": "tow", "controller": "fog", "field": "late"}
    shift = {"kind": "shift", "move": MOVES, "field": "late"}
    shots = [
        shot_of([tow]),
        shot_of([tow], slowness=0.3),
        shot_of([shift, tow], slowness=SLOWER),
        shot_of([tow, shift], slowness=SLOWER, place=MOVES),
        shot_of([tow | {"amount": 0.5}, tow]),
        shot_of([tow]),
    ]
    warm = evaluator()
    for shot in shots:
        for frame in (18, 6.5, 12):
            assert frame_bytes(warm, shot, frame) == frame_bytes(evaluator(), shot, frame)


def test_what_they_need_is_estimated_and_is_in_the_graph():
    shot = shot_of([{"kind": "tow", "controller": "fog", "field": "late"}])
    one = evaluator()
    needs = one.scene(shot, 0).plan.graph()
    assert {"march late/s it", "march it/s0", "solved it/s0"} <= set(needs)
    assert "march late/s it" in needs["field late it"]
    assert seconds_to_find(one, one.scene(shot, 24)) > 0
    one.frame(shot, 24)
    assert seconds_to_find(one, one.scene(shot, 24)) == 0
    assert estimate(shot).history_seconds > 0
