"""Where the shot is looked at from."""

from __future__ import annotations

from math import atan, degrees
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.keys import DIGITS, give_value
from windsock.core.changing.order import Pointer
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id
from windsock.core.document.items import Camera
from windsock.core.geometry.placement import Matrix, aimed, turn_of
from windsock.core.refusals import Refusal
from windsock.core.timing.parameter import Vector

NEAREST = 1e-6
SMALLEST_ANGLE, LARGEST_ANGLE = 1.0, 150.0


class LookFrom(ChangeBase):
    """Have a camera look from a place at a target, in world metres, upright. One that aims at an item does not from then on;
    a keyed one gets keys at the frame. Without a camera the shot gets one."""

    kind: Literal["look_from"] = "look_from"
    camera: Id | None
    place: Vector
    target: Vector

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        world = np.eye(4)
        world[:3, 3] = self.place
        if np.linalg.norm(np.subtract(self.place, self.target)) < NEAREST:
            raise Refusal("A camera cannot look at the place where it stands. Nothing was changed. Move away a little.")
        world[:3, :3] = aimed(world[:3, 3], np.array(self.target))
        edit.says = "camera from the free view"
        if self.camera is None:
            place, turn = _standing(world)
            given: dict[str, JsonValue] = {"kind": "camera", "place": [*place], "turn": [*turn]}
            edit.item_id = edit.add_item("Camera", given)
            edit.put("/camera", edit.item_id)
            return
        camera = edit.item_of(self.camera)
        if not isinstance(camera, Camera):
            raise Refusal(f"{camera.name} is no camera. Nothing was changed. Choose a camera.")
        if camera.parent is not None:
            world = np.linalg.inv(edit.shot.space_of(self.camera, edit.shot.moment(edit.at_frame))) @ world
        place, turn = _standing(world)
        if camera.aim is not None:
            edit.put(f"/items/{self.camera}/aim", None)
        give_value(edit, f"/items/{self.camera}/place", place)
        give_value(edit, f"/items/{self.camera}/turn", turn)


class SetFocalLength(ChangeBase):
    """Give a camera the angle of view that a lens of a focal length, in millimetres, has on its sensor.

    A thin lens focused far away (first-order geometrical optics): half of what is seen lies at the tangent of half the angle,
    half the sensor's extent over the focal length. The sensor is as high as it must be for the shot's picture.
    """

    kind: Literal["set_focal_length"] = "set_focal_length"
    camera: Id
    millimetres: Annotated[float, Field(gt=0, le=100_000)]

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        camera, picture = edit.item_of(self.camera), edit.shot.picture
        if not isinstance(camera, Camera):
            raise Refusal(f"{camera.name} is no camera. Nothing was changed. Choose a camera.")
        half = camera.sensor * picture.height / picture.width / 2
        angle = round(degrees(2 * atan(half / self.millimetres)), DIGITS)
        if not SMALLEST_ANGLE <= angle <= LARGEST_ANGLE:
            raise Refusal(
                f"{self.millimetres:g} mm on this sensor is an angle of {angle:.3g}°; it must lie between {SMALLEST_ANGLE:g} "
                f"and {LARGEST_ANGLE:g}. Nothing was changed. Choose another length or sensor."
            )
        give_value(edit, f"/items/{self.camera}/angle", angle)
        edit.says = f"focal length {self.millimetres:g} mm"


class FocusAt(ChangeBase):
    """Have what is at a place of the world, in metres, be sharp: for a camera, or for a finishing step that puts out of focus, which
    goes by the shot's camera. One that keeps an item sharp does not from then on; a keyed distance gets a key at the frame."""

    kind: Literal["focus_at"] = "focus_at"
    of: Pointer
    place: Vector

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        thing = edit.thing_at(self.of)
        camera = self.of.rpartition("/")[2] if isinstance(thing, Camera) else edit.shot.camera
        if camera is None or not {"focus", "focus_on"} <= set(type(thing).model_fields):
            raise Refusal("Nothing here is put into focus. Nothing was changed. Choose a camera.")
        matrix = edit.shot.placement(camera, edit.shot.moment(edit.at_frame))
        distance = -float((np.array(self.place) - matrix[:3, 3]) @ matrix[:3, 2])
        if not 0.01 <= distance <= 10_000:
            raise Refusal("This is not before the camera. Nothing was changed. Press on something that it sees.")
        give_value(edit, f"{self.of}/focus", round(distance, DIGITS))
        edit.put(f"{self.of}/focus_on", None)
        edit.says = f"sharp at {distance:.3g} m"


def _standing(matrix: Matrix) -> tuple[Vector, Vector]:
    """The place and turn of a (4, 4) matrix without stretch."""
    x, y, z = (round(float(one), DIGITS) + 0.0 for one in matrix[:3, 3])
    along_x, along_y, along_z = (round(one, DIGITS) + 0.0 for one in turn_of(matrix))
    return (x, y, z), (along_x, along_y, along_z)
