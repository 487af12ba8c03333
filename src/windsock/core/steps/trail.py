"""Trail: the way that points, pieces, copies or the whole shape have gone over the last seconds, as tubes, ribbons, lines
or a sheet.

All ways are found once for the shot, at its ticks; a frame takes the stretch that it shows, in even steps of its length
(geometry/trailing.py).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import PartId, Quantity, about
from windsock.core.fields.elements import Values
from windsock.core.geometry.mesh import LOOKS, Floats, Mesh
from windsock.core.geometry.placement import moved
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.trailing import (
    SIDES,
    Form,
    Ways,
    facing,
    laid,
    places_at,
    sheet_of,
    spread_out,
    strands_of,
)
from windsock.core.kernels.bands import smoothed_ways
from windsock.core.kernels.nearest import nearest_points
from windsock.core.kernels.spanning import spanning_pairs
from windsock.core.kernels.strands import carried_frames
from windsock.core.look import Look
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.refusals import TooMuch
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.steps.step import SolvedStep, WeightedStep
from windsock.core.timing.curve import Curve
from windsock.core.timing.parameter import NumberParameter

MOST_STRANDS = 5_000
MOST_PLACES = 12_000_000
"""Places that are kept of all ways together."""

MOST_POINTS = 1_500_000
SECONDS_A_TICK = 3e-3
"""Measured on two cores, for each tick of a shot with a simple recipe."""


class Trail(SolvedStep, WeightedStep):
    """Lay the way that things have gone over the last seconds, as a part of its own: of points that are spread over the shape, of its
    pieces or copies, or of the shape as a whole.

    It grows thinner towards its older end, or by a curve over age. Its steps are even in length, so that the frame rate does not matter.
    The field's weight at the thing, now, is how thick its trail is. What stands still has none. Ribbons lie as the way turns, lines face the
    shot's camera, and a sheet joins the ways of neighbours, which has no width of its own.
    """

    says = "The way that it has gone"
    wish = "Make more on it"

    begins: ClassVar[Mapping[str, JsonValue]] = {"look": {"base_colour": "#D8571C", "roughness": 0.5}}

    kind: Literal["trail"] = "trail"
    solution: ClassVar[type[Solution]] = Ways
    works: ClassVar[str] = "Following what moves"
    of: Annotated[Literal["points", "pieces", "whole"], Field(description="Of what it is the way")] = "points"
    count: Annotated[int, Quantity("Of how many points", low=1, high=MOST_STRANDS, drag=0.1, whole=True)] = 8
    lasts: Annotated[
        NumberParameter, Quantity("How many seconds long it is, 0 for all", unit="s", low=0, high=1e4, drag=0.01)
    ] = 1.0
    form: Annotated[Form, Field(description="What it is made of")] = "tubes"
    width: Annotated[NumberParameter, Quantity("How wide it is", unit="m", low=0, high=1e4, drag=0.001)] = 0.03
    thinner: Annotated[NumberParameter, Quantity("Share by which its end is thinner", low=0, high=1, drag=0.005)] = 1.0
    along: Annotated[Curve | None, Field(description="How thick it is over its age, in place of that")] = None
    spacing: Annotated[float, Quantity("Steps along it", unit="m", low=1e-4, high=1e4, drag=0.001)] = 0.02
    smooth: Annotated[float, Quantity("Seconds over which it is smooth", unit="s", low=0, high=60, drag=0.005)] = 0.0
    makes: Annotated[PartId, Field(description="The part that it is")] = "trail"
    look: Annotated[Look | None, Field(description="Its look; None: that of the part")] = None

    def made(self) -> str:
        return self.makes

    @property
    def at_middles(self) -> bool:
        return self.of != "points"

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"width": about(size, 0.03), "spacing": about(size, 0.02)}

    def solving(self, mesh: Mesh, lasts: float) -> float:
        del mesh
        return lasts * 120 * SECONDS_A_TICK

    def doubts(self, solution: Solution) -> str:
        ways = cast(Ways, solution)
        moves = len(ways.come) > 0 and bool((ways.come[-1:] > 1e-6).any())
        if not moves:
            return "nothing of it moves within the shot, so it has no trail; let it move"
        alone = self.form == "sheet" and len(ways.pairs) == 0
        return (
            "a sheet joins neighbours, and there is only one thing; take tubes, or the way of points" if alone else ""
        )

    def solve(self, given: SolveInputs) -> Ways:
        """All ways. Raises TooMuch for more than can be kept."""
        start, span = given.at_start().mesh, given.span()
        looks, places = span.ticks() + 1, list[Floats]()
        chosen: NDArray[np.int64] | None = None
        names: NDArray[np.int64] = np.zeros(0, dtype=np.int64)
        near, pairs = names, spanning_pairs(np.zeros((0, 3)))
        for second, part, matrix in given.taken():
            given.check((second - span.start) / max(span.end - span.start, 1e-9))
            number, there = self._things(part)
            if chosen is None:
                chosen = self._chosen(number, there)
                names = number[chosen]
                if len(names) * looks > MOST_PLACES:
                    raise TooMuch(
                        f"The ways of {len(names):,} things over {looks:,} looks are more than can be kept. Nothing was changed. "
                        f"{MOST_PLACES // looks:,} of them would fit."
                    )
                rest = self._rest(part)[chosen].astype(np.float64)
                near, pairs = (
                    nearest_points(rest, start.points) if len(start.points) else names * 0,
                    spanning_pairs(rest),
                )
            places.append(_found(names, number, moved(there, matrix)))
        made = np.stack(places) if places else np.zeros((1, 0, 3), dtype=np.float32)
        raw = made if self.smooth > 0 else made[:0]
        if self.smooth > 0:
            made = smoothed_ways(made, self.smooth * span.every)
        back = np.asarray(np.linalg.inv(given.stance_at_start().own_to_world()), dtype=np.float64)
        come, across = carried_frames(made)
        clock = np.array([span.start, float(span.every)])
        return Ways(made, come, across, raw, np.asarray(near, dtype=np.int64), pairs, clock, back)

    def _things(self, part: Part) -> tuple[NDArray[np.int64], Floats]:
        """(n,) who they are, and (n, 3) where, in the part's space."""
        if self.of == "points" and not part.points_are_middles:
            return part.mesh.number, part.mesh.points
        if self.of == "whole":
            middle = part.mesh.points.mean(axis=0, keepdims=True) if len(part.mesh.points) else np.zeros((0, 3))
            return np.zeros(len(middle), dtype=np.int64), middle.astype(np.float32)
        places = part.bodies().places
        return places.number, places.points

    def _rest(self, part: Part) -> Floats:
        if self.of == "points" and not part.points_are_middles:
            return part.mesh.rest
        if self.of == "whole":
            return part.mesh.rest.mean(axis=0, keepdims=True)
        return part.bodies().places.rest

    def _chosen(self, number: NDArray[np.int64], there: Floats) -> NDArray[np.int64]:
        """Which of the things it follows: of points as many as are wanted, as far apart as can be."""
        if self.of != "points" or len(number) == 0:
            return np.arange(min(len(number), MOST_STRANDS))
        _, first = np.unique(number, return_index=True)
        return first[spread_out(there[first].astype(np.float64), self.count)]

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The trails now, in the subject's space. Raises TooMuch for more points than a part may have."""
        ways, subject, matrix = cast(Ways, given.solution), given.subject.mesh, given.matrix
        look = part.look if self.look is None else self.look
        empty = MeshPart(subject.emptied(), look, "shown")
        lasts, every = given.at(self.lasts), float(ways.clock[1])
        now = min(max((given.seconds - float(ways.clock[0])) * every, 0.0), len(ways.places) - 1.0)
        first = max(now - lasts * every, 0.0) if lasts > 0 else 0.0
        if ways.places.shape[1] == 0 or now <= first or len(subject.points) == 0:
            return empty
        self._refuse_long(ways, first, now)
        if self.form == "sheet":
            stretch = sheet_of(ways, first, now, self.spacing)
        else:
            stretch = strands_of(ways, first, now, self.spacing, self.form)
        if len(stretch.faces) == 0:
            return empty
        if len(ways.raw):
            # A way that was made smooth still ends where the thing is.
            beside = np.nan_to_num(places_at(ways.raw, now) - ways.at(now))[stretch.strand]
            late = np.exp((stretch.share[:, None] - 1) * (now - first) / (self.smooth * every))
            stretch = replace(stretch, places=stretch.places + beside * late)
        camera = given.camera() if self.form == "lines" else None
        if camera is not None:
            stretch = facing(stretch, np.asarray(camera[:3, 3], dtype=np.float64))
        weights = self._weights(part, given, ways)[stretch.strand]
        thick = 0.5 * given.at(self.width) * self._over_age(stretch.share, given) * weights
        mesh = laid(stretch, thick, self.form, ways, subject, matrix)
        if self.look is not None:
            mesh = replace(mesh, pictures=None, **dict.fromkeys(LOOKS))
        return MeshPart(mesh, look, "hidden" if self.form == "tubes" else "shown")

    def _refuse_long(self, ways: Ways, first: float, now: float) -> None:
        gone = ways.come[int(np.ceil(now))] - ways.come[int(first)]
        steps = float(gone.mean() * len(gone) if self.form == "sheet" else gone.sum()) / self.spacing
        if steps * SIDES[self.form] > MOST_POINTS:
            raise TooMuch(
                f"The trails would have {steps:,.0f} steps; {MOST_POINTS // SIDES[self.form]:,} can be shown. Nothing was changed. Take longer "
                "steps, fewer trails or shorter ones."
            )

    def _over_age(self, share: Values, given: StepInputs) -> Values:
        """(n,) how thick it is where so much of the time is gone, 1 at the head."""
        if self.along is not None:
            return np.maximum(np.asarray(self.along(1 - share), dtype=np.float64), 0.0)
        return 1 - given.at(self.thinner) * (1 - share)

    def _weights(self, part: Part, given: StepInputs, ways: Ways) -> Values:
        """(k,) the weight of what drives the step at each thing."""
        count = int(ways.places.shape[1])
        drive = given.drive
        if drive is None:
            return np.full(count, given.at(self.amount), dtype=np.float64)
        rest = self._rest(part) if self.of != "points" else part.mesh.rest
        weight = self.weight(len(rest), given)
        if len(weight) == 0:
            return np.zeros(count)
        # What has gone since takes the weight of what is nearest where it was.
        return np.asarray(weight, dtype=np.float64)[nearest_points(given.subject.mesh.rest[ways.near], rest)]


def _found(names: NDArray[np.int64], number: NDArray[np.int64], there: Values) -> Floats:
    """(k, 3) where things of a name are among those of a number; not-a-number where one is not there."""
    made = np.full((len(names), 3), np.nan, dtype=np.float32)
    if len(number):
        order = np.argsort(number, kind="stable")
        place = np.minimum(np.searchsorted(number[order], names), len(number) - 1)
        same = number[order][place] == names
        made[same] = there[order][place][same]
    return made
