"""How the pictures of the demo are taken and finished."""

from __future__ import annotations

from pydantic import JsonValue


def film_look(
    white: float = 6504,
    contrast: float = 1.06,
    saturation: float = 1.08,
    glow: float = 1.0,
    vignette: float = 0.6,
    focus: tuple[str, float] | None = None,
) -> JsonValue:
    """Glow, a grade, a darker edge, a lens's fringes and a little grain. white: kelvin of the light that looks white; contrast: the power
    of the grade, whose middle stays; focus: the item that is sharp and an f-number."""
    even = round((0.18 / 0.18**contrast) ** (1 / contrast), 4)
    slope: JsonValue = [even, even, even]
    power: JsonValue = [contrast, contrast, contrast]
    chain: list[dict[str, JsonValue]] = [
        {"kind": "glow", "strength": glow},
        {"kind": "white_balance", "temperature": white},
        {"kind": "grade", "slope": slope, "power": power, "saturation": saturation},
        {"kind": "vignette", "stops": vignette, "start": 25.0},
        {"kind": "colour_fringe", "spread": 0.12},
        {"kind": "grain", "strength": 0.018},
    ]
    if focus is not None:
        chain.insert(1, {"kind": "depth_of_field", "focus_on": focus[0], "f_number": focus[1]})
    return {str(step["kind"]).replace("_", "-"): {"rank": rank} | step for rank, step in enumerate(chain)}


def lens(sharp: str, f_number: float, shutter: float = 0.0) -> dict[str, JsonValue]:
    """Settings of a camera. sharp: the item that is in focus; shutter: degrees of a frame's 360 that it is open for."""
    return {"aperture": f_number, "focus_on": sharp, "shutter": shutter}
