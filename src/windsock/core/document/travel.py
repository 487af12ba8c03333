"""How an item goes along the path that carries it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.declarations import Declared, Quantity
from windsock.core.geometry.course import Course, frames
from windsock.core.geometry.placement import Matrix
from windsock.core.timing.parameter import KeyedNumber, NumberParameter

FALL = 9.81
"""Metres per second per second, by which a rider leans into a bend."""

BESIDE = 1e-3
"""Share of a course over which its bend is measured."""


class Travel(Declared):
    """Where along a path an item is, in metres of arc length from its start: a share of its length, and as far on as a speed has
    brought it since the shot's first frame.

    Its -Z axis goes ahead, as that of an item that aims does. along: its Y axis is that of the path, which does not twist; upright:
    Y is up as far as the way allows; own: it is not turned. What is beyond an open path's end waits there, or comes again from its
    start; a closed path goes round.
    """

    share: Annotated[NumberParameter, Quantity("Share of the path where it is", low=-1000, high=1000, drag=0.002)] = 0.0
    speed: Annotated[
        NumberParameter, Quantity("How fast it goes on from there", unit="m/s", low=0, high=1e4, drag=0.01)
    ] = 0.0
    turning: Annotated[Literal["along", "upright", "own"], Field(description="How it is turned as it goes")] = "along"
    bank: Annotated[
        NumberParameter,
        Quantity("How far it leans into bends; 1 as a rider does", unit="×", low=-100, high=100, drag=0.01),
    ] = 0.0
    ends: Annotated[Literal["waits", "again"], Field(description="What it does at the end of an open path")] = "waits"

    @property
    def goes_on(self) -> bool:
        """Whether it moves without a key."""
        return isinstance(self.speed, KeyedNumber) or self.speed > 0

    def standing(self, course: Course, come: Callable[[float], float], bank: float) -> Matrix:
        """(4, 4) from the space that it carries the item in to the world, without stretch. course: in the world; come: the metres
        along it so many seconds later."""
        length = course.length
        matrix = np.eye(4)
        if length <= 0 or len(course.ways) == 0:
            matrix[:3, 3] = course.places[0]
            return matrix
        along = self._within(course, come(0.0))
        places, ways = course.stand(np.array([along]))
        matrix[:3, 3] = places[0]
        if self.turning == "own":
            return matrix
        ahead = ways[0]
        up = np.array([0.0, 1.0, 0.0])
        if self.turning == "along":
            own = frames(course.places, course.closed)[2]
            up = np.array([np.interp(along, course.along, own[:, axis]) for axis in range(3)])
        elif abs(ahead[1]) > 1 - 1e-9:
            up = np.array([0.0, 0.0, -np.sign(ahead[1])])
        right = np.cross(ahead, up)
        right /= max(float(np.linalg.norm(right)), 1e-12)
        up = np.cross(right, ahead)
        if bank != 0:
            step = 1 / 480
            speed = (self._held(course, come(step)) - self._held(course, come(-step))) / (2 * step)
            lean = bank * np.arctan(speed * speed * self._bend(course, along, right) / FALL)
            right, up = np.cos(lean) * right - np.sin(lean) * up, np.sin(lean) * right + np.cos(lean) * up
        matrix[:3, :3] = np.stack([right, up, -ahead], axis=1)
        return matrix

    def _held(self, course: Course, along: float) -> float:
        """The metres along that it comes to, where it waits at an end."""
        waits = self.ends == "waits" and not course.closed
        return float(np.clip(along, 0.0, course.length)) if waits else along

    def _within(self, course: Course, along: float) -> float:
        if course.closed or self.ends == "again":
            return float(np.mod(along, course.length))
        return float(np.clip(along, 0.0, course.length))

    def _bend(self, course: Course, along: float, right: NDArray[np.float64]) -> float:
        """One over the radius of the bend to the right."""
        step = BESIDE * course.length
        ends = np.array([along - step, along + step])
        ends = np.mod(ends, course.length) if course.closed else np.clip(ends, 0.0, course.length)
        ways = course.stand(ends)[1]
        return float((ways[1] - ways[0]) @ right) / (2 * step if course.closed else float(ends[1] - ends[0]))
