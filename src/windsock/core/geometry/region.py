"""Regions of the plane, bounded by closed outlines: letters, drawings, profiles."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
from manifold3d import CrossSection, FillRule, JoinType
from numpy.typing import NDArray

Outline = NDArray[np.float64]
"""(k, 2) places of a closed outline in order; the last is joined to the first."""

Region = list[Outline]
"""Outlines that do not cross: anticlockwise round what is inside, clockwise round holes."""

CORNER = np.radians(20.0)
"""An outline that turns more than this at a place has a corner there, which every sampling keeps."""

BEND = np.radians(14.0)
"""The most that a sampled curve turns from one sample to the next."""

ROUND_SEGMENTS = 48
"""Segments of a full circle where an offset goes round a corner."""


def filled(outlines: Sequence[Outline], rule: Literal["nonzero", "evenodd"] = "nonzero") -> Region:
    """What outlines that may cross fill together, by the nonzero or even-odd rule of SVG (manifold3d does the work)."""
    sound = [outline for outline in outlines if len(outline) >= 3]
    if not sound:
        return []
    fill = FillRule.NonZero if rule == "nonzero" else FillRule.EvenOdd
    return _plain(CrossSection(sound, fill))


def inset(region: Region, distance: float) -> Region:
    """The region without what lies nearer to its border than `distance`; where that is negative, grown round."""
    if not region:
        return []
    section = CrossSection(region, FillRule.NonZero)
    return _plain(section.offset(-distance, JoinType.Round, 2.0, ROUND_SEGMENTS))


def area(region: Region) -> float:
    """The area of a region."""
    return float(sum(_signed_area(outline) for outline in region))


def length(region: Region) -> float:
    """The length of a region's border."""
    return float(sum(np.linalg.norm(outline - np.roll(outline, -1, axis=0), axis=1).sum() for outline in region))


def sampled(outline: Outline, spacing: float) -> Outline:
    """The outline by places at most `spacing` apart, nearer where it bends; its corners are kept.

    Between corners the samples are spread evenly by a density: one for each `spacing` of length or `BEND` of turning,
    whichever asks for more.
    """
    step = np.roll(outline, -1, axis=0) - outline
    outline = outline[np.linalg.norm(step, axis=1) > 1e-9]
    if len(outline) < 3:
        return outline
    step = np.roll(outline, -1, axis=0) - outline
    heading = np.arctan2(step[:, 1], step[:, 0])
    turning = np.abs((heading - np.roll(heading, 1) + np.pi) % (2 * np.pi) - np.pi)
    corners = np.flatnonzero(turning > CORNER)
    if len(corners) == 0:
        corners = np.array([0])
    made: list[Outline] = []
    for start, end in zip(corners, np.append(corners[1:], corners[0] + len(outline)), strict=True):
        places = np.arange(start, end + 1) % len(outline)
        run, bend = outline[places], turning[places].copy()
        bend[0] = bend[-1] = 0.0
        lengths = np.linalg.norm(np.diff(run, axis=0), axis=1)
        asked = np.maximum(lengths / spacing, (bend[:-1] + bend[1:]) / 2 / BEND)
        come = np.concatenate([[0.0], np.cumsum(asked)])
        count = max(1, int(np.ceil(come[-1] - 1e-6)))
        if len(corners) == 1:
            count = max(3, count)
        wanted = np.linspace(0, float(come[-1]), count + 1)[:-1]
        made.append(np.stack([np.interp(wanted, come, run[:, axis]) for axis in (0, 1)], axis=1))
    return np.concatenate(made)


def bounds(region: Region) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The least and the greatest corner of a region that is not empty."""
    points = np.concatenate(region)
    return points.min(axis=0), points.max(axis=0)


def _plain(section: CrossSection) -> Region:
    polygons: list[Outline] = section.to_polygons()  # pyright: ignore
    return [np.asarray(outline, dtype=np.float64) for outline in polygons if len(outline) >= 3]


def _signed_area(outline: Outline) -> float:
    ahead = np.roll(outline, -1, axis=0)
    return float((outline[:, 0] * ahead[:, 1] - ahead[:, 0] * outline[:, 1]).sum() / 2)
