"""Colours: IEC 61966-2-1 and cividis as published with matplotlib."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from matplotlib import colormaps

from windsock.core.geometry.colour import linear_from_hex

CIVIDIS = Path(__file__).parents[1] / "frontend" / "src" / "view" / "cividis.ts"


def test_the_field_colours_are_cividis_at_256_steps():
    table = "".join(re.findall(r'"([0-9a-f]{96})"', CIVIDIS.read_text()))
    ours = [table[place : place + 6] for place in range(0, len(table), 6)]
    published = colormaps["cividis"]
    expected = ["".join(f"{round(channel * 255):02x}" for channel in published(step)[:3]) for step in range(256)]
    assert ours == expected


@pytest.mark.parametrize(
    ("encoded", "linear"),
    # The standard's two branches by its own formulas; #0A lies on the straight one.
    [
        ("#000000", 0.0),
        ("#ffffff", 1.0),
        ("#0a0a0a", 10 / 255 / 12.92),
        ("#808080", ((128 / 255 + 0.055) / 1.055) ** 2.4),
    ],
)
def test_the_transfer_function(encoded, linear):
    assert linear_from_hex(encoded) == pytest.approx((linear,) * 3)
