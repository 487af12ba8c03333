"""Items added to a shot, and copied."""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from pydantic import BaseModel, ConfigDict, Field, JsonValue, StringConstraints

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.changing.removing import remove_item
from windsock.core.declarations import Id, in_order
from windsock.core.document.items import AnyItem, Path, Shape
from windsock.core.document.shot import Shot
from windsock.core.refusals import Refusal
from windsock.core.shapes import AnyGeometry, Geometry
from windsock.core.shapes.geometry import BroughtFile
from windsock.core.timing.parameter import Finite, KeyedVector

Place = tuple[Finite, Finite, Finite]
NewName = Annotated[str, StringConstraints(min_length=1, max_length=76)]
"""What a new thing is called; where another one has that name, a number is put behind it."""

NEW_ITEMS: dict[str, tuple[str, dict[str, JsonValue]]] = {
    "controller": ("Controller", {"place": [1.5, 1.0, 0.0]}),
    "light": ("Key light", {"place": [4.0, 6.0, 4.0], "turn": [-45.0, 40.0, 0.0]}),
    "camera": ("Camera", {"place": [0.0, 1.6, 7.0]}),
}
"""What items without geometry are called at first, and what they are like."""


class AddShape(ChangeBase):
    """Add a shape, standing on the ground. in_place_of: an item that goes with the same edit."""

    kind: Literal["add_shape"] = "add_shape"
    name: NewName
    geometry: Geometry
    place: Place | None = None
    in_place_of: Id | None = None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        if self.in_place_of is not None:
            remove_item(edit, self.in_place_of)
        place = self.place or (0.0, self.geometry.below(), 0.0)
        edit.item_id = add_shape(edit, self.name, self.geometry, place)
        edit.says = f"add {self.name}"


class AddFile(ChangeBase):
    """Add what is made from an imported file, standing on the ground. in_place_of: an item that goes with the same edit."""

    kind: Literal["add_file"] = "add_file"
    name: NewName
    file: BroughtFile
    in_place_of: Id | None = None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        for kind in get_args(AnyGeometry):
            try:
                made = kind.from_file(self.file)
            except ValueError:
                raise Refusal(
                    "The file would be too large or too small. Nothing was changed. Choose another size."
                ) from None
            if made is not None:
                geometry, place = made
                name = geometry.called or self.name
                AddShape(name=name, geometry=geometry, place=place, in_place_of=self.in_place_of).plan(edit, bounds)
                return
        raise Refusal("Nothing is made from such a file. Nothing was changed. Choose another file.")


class AddBuilt(ChangeBase):
    """Add a shape of a kind that can be built from nothing else, standing on the ground."""

    kind: Literal["add_built"] = "add_built"
    what: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        examples = {kind.kind_name(): kind.example() for kind in get_args(AnyGeometry)}
        geometry = examples.get(self.what)
        if geometry is None:
            raise Refusal(f"No shape is built as “{self.what}”. Nothing was changed. Choose one of those in the list.")
        AddShape(name=geometry.called, geometry=geometry).plan(edit, bounds)


class DrawnPoint(BaseModel):
    """A point of a line: see `PathPoint`."""

    model_config = ConfigDict(extra="forbid", strict=True, frozen=True, allow_inf_nan=False)

    place: Place
    joint: Literal["corner", "smooth"] = "smooth"
    before: Place | None = None
    after: Place | None = None


class DrawnLine(BaseModel):
    """A line that becomes a path."""

    model_config = ConfigDict(extra="forbid", strict=True, frozen=True)

    points: Annotated[list[DrawnPoint], Field(min_length=2, max_length=400)]
    closed: bool = False


WAVE = DrawnLine(
    points=[
        DrawnPoint(place=(-1.5, 0.5, 0.0)),
        DrawnPoint(place=(-0.5, 1.5, 0.0)),
        DrawnPoint(place=(0.5, 0.5, 0.0)),
        DrawnPoint(place=(1.5, 1.5, 0.0)),
    ]
)
"""What a new path is like."""


class AddPaths(ChangeBase):
    """Add a path for each line; one in a wave where there are none."""

    kind: Literal["add_paths"] = "add_paths"
    name: NewName = "Path"
    lines: Annotated[list[DrawnLine], Field(max_length=64)] = []
    in_place_of: Id | None = None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        if self.in_place_of is not None:
            remove_item(edit, self.in_place_of)
        for line in self.lines or [WAVE]:
            edit.item_id = add_path(edit, self.name, line)
        edit.says = "add a path" if len(self.lines) < 2 else f"add {len(self.lines)} paths"


class AddSweep(ChangeBase):
    """Add a sweep along a path of the shot, carried by it: the one that is wanted if it is one, else the last; without a path
    along a new one."""

    kind: Literal["add_sweep"] = "add_sweep"
    along: Id | None = None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        paths = [key for key, item in in_order(edit.shot.items) if isinstance(item, Path)]
        path = self.along if self.along in paths else paths[-1] if paths else add_path(edit, "Path", WAVE)
        geometry: JsonValue = {"kind": "sweep", "path": path}
        edit.item_id = edit.add_item("Sweep", {"kind": "shape", "geometry": geometry, "parent": path})
        edit.says = "add a sweep"


class AddItem(ChangeBase):
    """Add a controller, a light or a camera; the shot looks through the first camera that it gets."""

    kind: Literal["add_item"] = "add_item"
    what: Literal["controller", "light", "camera"]
    name: NewName | None = None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        word, given = NEW_ITEMS[self.what]
        edit.item_id = edit.add_item(self.name or word, {"kind": self.what} | given)
        if self.what == "camera" and edit.shot.camera is None:
            edit.put("/camera", edit.item_id)
        edit.says = f"add a {self.what}"


class CopyItem(ChangeBase):
    """Copy an item beside itself, with its recipe; fields and controllers stay shared."""

    kind: Literal["copy_item"] = "copy_item"
    item: Id

    def measured(self, shot: Shot) -> str | None:
        return self.item if isinstance(shot.items.get(self.item), Shape) else None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        item = edit.item_of(self.item)
        apart = float(f"{bounds.size[0] * 1.1:.2g}") if isinstance(item, Shape) else 1.0
        given = item.model_dump(mode="json", exclude={"name", "rank"})
        edit.item_id = edit.add_item(f"{item.name} copy"[:76], given | {"place": _beside(item, apart)})
        edit.says = f"copy {item.name}"


def _beside(item: AnyItem, apart: float) -> JsonValue:
    def moved(place: tuple[float, float, float]) -> list[JsonValue]:
        return [place[0] + apart, place[1], place[2]]

    if not isinstance(item.place, KeyedVector):
        return moved(item.place)
    plain = item.place.model_dump(mode="json")
    for key, value in item.place.keys.items():
        plain["keys"][key]["value"] = moved(value.value)
    return plain


def add_shape(edit: PlannedEdit, name: str, geometry: AnyGeometry, place: Place) -> str:
    """Add a shape; its id."""
    return edit.add_item(name, {"kind": "shape", "geometry": geometry.model_dump(mode="json"), "place": [*place]})


def add_path(edit: PlannedEdit, name: str, line: DrawnLine) -> str:
    """Add a path along a line; its id."""
    points: JsonValue = {
        f"p{rank + 1}": {"rank": rank} | point.model_dump(mode="json") for rank, point in enumerate(line.points)
    }
    return edit.add_item(name, {"kind": "path", "points": points, "closed": line.closed})
