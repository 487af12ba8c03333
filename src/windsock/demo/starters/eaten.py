"""Eaten: the shape is eaten in from its surface, fast and slow from place to place; islands are left, stained at their edges."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.demo.starters.laying import Laying, Starter, keyed, ramp, rounded

RUST = {"base_colour": "#7C3D1D", "roughness": 0.78, "metallic": 0.35}
GRAIN = ramp((0.25, "#2A1710"), (0.5, "#8A421C"), (0.75, "#C9823F"))
STAIN = ramp((0.0, "#B9824A"), (0.6, "#8A421C"), (1.0, "#4A2412"))


def eating(laying: Laying, name: str, contrast: float) -> dict[str, JsonValue]:
    """The settings of an erosion whose pace two noises rule, a coarse one that leaves islands and a fine one on top; with its field.

    contrast: of the coarse one, in percent. Only where that one is 0 nothing is ever eaten."""
    size = laying.bounds.largest
    coarse: JsonValue = {"kind": "noise", "rank": 0, "size": rounded(size * 0.3), "octaves": 2, "contrast": contrast}
    fine: JsonValue = {
        "kind": "noise", "rank": 1, "word": "times", "size": rounded(size * 0.1), "octaves": 2, "contrast": 10,
    }  # fmt: skip
    laying.field_id = laying.add_field(name, {"level": 0.5, "band": 0.2, "sources": {"coarse": coarse, "fine": fine}})
    return {
        "field": laying.field_id, "zone": "value", "voxel": rounded(size * 0.012), "smooth": rounded(size * 0.008),
        "by": "share", "least": float(f"{(size * 0.04) ** 3:.2g}"),
    }  # fmt: skip


def lay(laying: Laying) -> None:
    """The front goes some of its way over the shot; what it opens is of rust, in grains."""
    settings = eating(laying, "How fast it is eaten", 66)
    rust = laying.add_part("Rust")
    far = keyed((laying.frame(0.05), 0.0), (laying.frame(0.95), 0.8), easing="linear")
    eating_step = laying.add_step("erode", settings | {"share": far, "makes": rust, "look": RUST})
    grain: JsonValue = {
        "kind": "noise", "rank": 0, "size": rounded(laying.bounds.largest * 0.05), "octaves": 3, "contrast": 45,
    }  # fmt: skip
    grains = laying.add_field("Grain", {"level": 0.5, "band": 0.2, "sources": {"grain": grain}})
    laying.add_step("shade", {"part": rust, "field": grains, "channel": "base_colour", "zone": "value", "ramp": GRAIN})
    until_now: JsonValue = {
        "kind": "eaten",
        "rank": 0,
        "step": eating_step,
        "soft": rounded(laying.bounds.largest * 0.07),
    }
    stain = laying.add_field("Eaten until now", {"level": 0.5, "band": 0.2, "sources": {"eaten": until_now}})
    laying.add_step("shade", {"field": stain, "channel": "base_colour", "zone": "value", "ramp": STAIN})


EATEN = Starter(
    "Eaten away",
    "eaten in from its surface, fast and slow from place to place, in rust",
    "how far the front comes, by its keys; then the contrast of the coarse noise, which says how much is left whole",
    "Take it away",
    lay,
)
