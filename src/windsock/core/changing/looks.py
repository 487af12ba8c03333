"""Looks that are laid by a press."""

from __future__ import annotations

from typing import Literal, NamedTuple

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.order import Pointer
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id, Name, about
from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.look import Look
from windsock.core.refusals import Refusal


class ReadyLook(NamedTuple):
    """A look, what it is called, and what kind of look it is. deep: how far light goes until it has the colour of the inside, as a
    share of the size of what it is laid on, so that it looks the same on a bead and on a boulder."""

    called: str
    wish: str
    look: Look
    deep: float = 0.0

    def on(self, size: float) -> Look:
        """The look for something of a size in metres."""
        if self.deep == 0:
            return self.look
        return self.look.model_copy(update={"attenuation_distance": about(size, self.deep)})


def _look(colour: str, roughness: float, **more: float | str) -> Look:
    return Look.model_validate({"base_colour": colour, "roughness": roughness} | more)


STONE, METAL, CLEAR, LIT = "Dull and wet", "Metal", "Light goes through", "Gives off light"

READY = {
    "wet-stone": ReadyLook("Wet stone", STONE, _look("#4B4F4F", 0.22)),
    "chalk": ReadyLook("Chalk", STONE, _look("#E9E5DA", 1.0)),
    "sand": ReadyLook("Dry sand", STONE, _look("#C9AF7C", 0.95)),
    "paint": ReadyLook("Boat paint", STONE, _look("#B2361F", 0.32)),
    "tar": ReadyLook("Tar", STONE, _look("#0D0C0B", 0.16)),
    "rubber": ReadyLook("Rubber", STONE, _look("#232628", 0.75)),
    "brass": ReadyLook("Brass", METAL, _look("#CBA24C", 0.26, metallic=1.0)),
    "pewter": ReadyLook("Pewter", METAL, _look("#8D9094", 0.34, metallic=1.0)),
    "rust": ReadyLook("Rust", METAL, _look("#7B4022", 0.92, metallic=0.3)),
    "sea-glass": ReadyLook(
        "Sea glass",
        CLEAR,
        _look("#DCEDE6", 0.38, transmission=0.85, attenuation_colour="#6FB79A"),
        deep=0.9,
    ),
    "clear-glass": ReadyLook("Clear glass", CLEAR, _look("#FAFCFC", 0.02, transmission=1.0)),
    "amber": ReadyLook(
        "Amber",
        CLEAR,
        _look("#F6E6C8", 0.08, transmission=0.9, index=1.54, attenuation_colour="#D9781C"),
        deep=0.9,
    ),
    "ice": ReadyLook(
        "Ice",
        CLEAR,
        _look("#E6F2F6", 0.12, transmission=0.7, index=1.31, attenuation_colour="#A9D6E8"),
        deep=1.5,
    ),
    "frost": ReadyLook("Frost", CLEAR, _look("#E4EEF2", 0.85, transmission=0.2, index=1.31)),
    "ember": ReadyLook("Ember", LIT, _look("#2B0F08", 0.9, emission_colour="#FF5A1E", emission=2.2)),
    "lamplight": ReadyLook("Lamplight", LIT, _look("#F4E2C0", 0.6, emission_colour="#FFCF8A", emission=3.0)),
    "marker": ReadyLook("Marker light", LIT, _look("#0F3A36", 0.5, emission_colour="#4FE0C8", emission=1.6)),
}
"""Those that ship, by their names, in the order in which they are offered."""


class LayLook(ChangeBase):
    """Lay one of the ready looks where a look is. Whether faces are seen from behind stays, and how thick a sheet is."""

    kind: Literal["lay_look"] = "lay_look"
    of: Pointer
    look: Id

    def measured(self, shot: Shot) -> str | None:
        return next((item for item in self.of.split("/")[2:3] if isinstance(shot.items.get(item), Shape)), None)

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        ready = READY.get(self.look)
        if ready is None:
            raise Refusal(f"There is no look “{self.look}”. Nothing was changed. Choose one of those in the list.")
        _lay(edit, self.of, ready.on(bounds.largest))
        edit.says = ready.called.lower()


class LayKeptLook(ChangeBase):
    """Lay a look that is kept elsewhere, under a name, where a look is. Whether faces are seen from behind stays, and how thick a
    sheet is."""

    kind: Literal["lay_kept_look"] = "lay_kept_look"
    of: Pointer
    look: Look
    called: Name

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        _lay(edit, self.of, self.look)
        edit.says = f"look {self.called}"


def _lay(edit: PlannedEdit, pointer: str, look: Look) -> None:
    held = edit.thing_at(pointer)
    if not isinstance(held, Look):
        raise Refusal("There is no look here. Nothing was changed. Choose a shape.")
    edit.put(
        pointer, look.model_copy(update={"backs": held.backs, "thickness": held.thickness}).model_dump(mode="json")
    )
