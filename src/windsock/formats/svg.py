"""SVG drawings in: fills and strokes as regions, and outlines as curves. svgelements reads, shapely widens strokes."""

from __future__ import annotations

import re
from io import StringIO
from typing import Any, Literal
from xml.etree import ElementTree

import numpy as np
import svgelements as svg
from numpy.typing import NDArray
from shapely import LineString, MultiPolygon, Polygon

from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.drawing import Drawing, Paint, Stroke
from windsock.core.geometry.region import Outline, filled
from windsock.core.refusals import Refusal

SIZE_LIMIT = 8 * 2**20
"""Bytes of a drawing."""

ELEMENT_LIMIT, DEPTH_LIMIT, SEGMENT_LIMIT = 20_000, 200, 200_000
"""Of the elements, how deep they are nested, and the segments of all paths together."""

CURVE_PARTS = 16
FLAT = 1e6
"""Coordinates beyond this are refused."""

UNREAD = ("text", "image", "filter", "mask", "clipPath", "foreignObject", "pattern", "linearGradient", "radialGradient")
TAG = re.compile(rb"<(/?)([A-Za-z_][\w:.-]*)[^<>]*?(/?)>")
JOINS = {"round": "round", "bevel": "bevel", "miter": "mitre"}
CAPS = {"round": "round", "square": "square", "butt": "flat"}


def read_svg(content: bytes) -> Drawing:
    """A drawing, y up, in its own units. Raises Refusal."""
    _refuse_tricks(content)
    try:
        tree = svg.SVG.parse(StringIO(content.decode("utf-8-sig")), reify=True, ppi=96)
        elements: list[Any] = [one for one in tree.elements() if isinstance(one, svg.Shape)]
    except MemoryError:
        raise
    except Exception as fault:  # noqa: BLE001 - the reader raises nearly anything on broken files
        raise Refusal(
            f"The drawing could not be read as SVG ({type(fault).__name__}). Nothing was imported. Write it as plain SVG again."
        ) from None
    paints: list[Paint] = []
    strokes: list[Stroke] = []
    segments = 0
    for element in elements:
        if str(element.values.get("display")) == "none" or str(element.values.get("visibility")) == "hidden":
            continue
        try:
            path = abs(svg.Path(element))
        except (ValueError, TypeError, AttributeError, ZeroDivisionError, OverflowError):
            continue
        segments += len(path)
        if segments > SEGMENT_LIMIT:
            raise Refusal(
                f"The drawing has more than {SEGMENT_LIMIT:,} segments. Nothing was imported. Simplify it and import it again."
            )
        runs = _runs(path)
        strokes += runs
        paints += _painted(element, [(_flat(run.curves), run.closed) for run in runs])
    if not strokes:
        raise Refusal(
            "The drawing has no shapes that are read here. Nothing was imported. Turn text and pictures into outlines."
        )
    return Drawing(paints, strokes, _notes(content))


def _refuse_tricks(content: bytes) -> None:
    if len(content) > SIZE_LIMIT:
        raise Refusal(
            f"The drawing is {len(content) / 2**20:.0f} MB; the limit is {SIZE_LIMIT // 2**20} MB. Nothing was imported. Simplify it."
        )
    if b"<!ENTITY" in content.upper() or (b"<!DOCTYPE" in content.upper() and b"[" in content[: content.find(b"<svg")]):
        raise Refusal(
            "The drawing defines entities of its own, which are not read. Nothing was imported. Write it as plain SVG."
        )
    depth = deepest = count = 0
    for found in TAG.finditer(content):
        closing, _, childless = found.groups()
        count += not closing
        depth += -1 if closing else (0 if childless else 1)
        deepest = max(deepest, depth)
    if count > ELEMENT_LIMIT or deepest > DEPTH_LIMIT:
        raise Refusal(
            f"The drawing has {count:,} elements, nested {deepest} deep; {ELEMENT_LIMIT:,} and {DEPTH_LIMIT} are read. "
            "Nothing was imported. Simplify it."
        )
    uses = content.count(b"<use") + content.count(b":use")
    if uses > 200 or (uses and _expanded(content) > ELEMENT_LIMIT):
        raise Refusal(
            f"The drawing repeats parts by reference more than 200 times, or into more than {ELEMENT_LIMIT:,} elements. "
            "Nothing was imported. Turn them into paths."
        )


def _expanded(content: bytes) -> float:
    """How many elements there are once those that are used by reference are put in; infinite where they go in a circle."""
    try:
        root = ElementTree.fromstring(content)
    except ElementTree.ParseError:
        return 0.0  # the reader says what is wrong
    named = {one.get("id", ""): one for one in root.iter() if one.get("id")}
    known: dict[ElementTree.Element, float] = {}

    def size(element: ElementTree.Element) -> float:
        if element not in known:
            known[element] = float("inf")  # until it is known: who comes here again goes in a circle
            total = 1.0 + sum(size(child) for child in element)
            if element.tag.rsplit("}", 1)[-1] == "use":
                link = element.get("href") or element.get("{http://www.w3.org/1999/xlink}href") or ""
                used = named.get(link.removeprefix("#"))
                total += 0.0 if used is None else size(used)
            known[element] = total
        return known[element]

    return size(root)


def _runs(path: svg.Path) -> list[Stroke]:
    """The subpaths as cubic curves, y up. Quadratic curves are raised exactly, arcs by the reader's cubic pieces."""
    runs: list[Stroke] = []
    for sub in path.as_subpaths():
        curves: list[list[tuple[float, float]]] = []
        closed = False
        for segment in svg.Path(sub):
            if isinstance(segment, svg.Move):
                continue
            pieces = list(segment.as_cubic_curves()) if isinstance(segment, svg.Arc) else [segment]
            for piece in pieces:
                closed |= isinstance(piece, svg.Close)
                cubic = _cubic(piece)
                if cubic is not None:
                    curves.append(cubic)
        if curves:
            array = np.array(curves, dtype=np.float64) * (1, -1)
            if np.isfinite(array).all() and np.abs(array).max() < FLAT:
                runs.append(Stroke(array, closed))
    return runs


def _cubic(segment: Any) -> list[tuple[float, float]] | None:
    if segment.start is None or segment.end is None:
        return None
    start: Any = segment.start
    end: Any = segment.end
    one: Any
    other: Any
    if isinstance(segment, svg.CubicBezier):
        one, other = segment.control1, segment.control2
    elif isinstance(segment, svg.QuadraticBezier):
        one, other = start + (segment.control - start) * (2 / 3), end + (segment.control - end) * (2 / 3)
    else:
        if start == end:
            return None
        one, other = start + (end - start) * (1 / 3), start + (end - start) * (2 / 3)
    return [(float(point.x), float(point.y)) for point in (start, one, other, end)]


def _flat(curves: NDArray[np.float64]) -> Outline:
    """(k, 2) places along curves, each start to end; a straight one only by its ends."""
    share = np.linspace(0, 1, CURVE_PARTS + 1)[1:, None]
    rows = [curves[:1, 0]]
    for a, b, c, d in curves:
        straight = np.allclose(b - a, (d - a) / 3, atol=1e-9) and np.allclose(c - a, (d - a) * 2 / 3, atol=1e-9)
        t = share[-1:] if straight else share
        rows.append((1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d)
    return np.concatenate(rows)


def _painted(element: Any, lines: list[tuple[Outline, bool]]) -> list[Paint]:
    """What an element fills, and over it what its stroke covers."""
    made: list[Paint] = []
    fill = _colour(element.fill, element.values.get("fill"))
    if fill is not None:
        rule: Literal["nonzero", "evenodd"] = "evenodd" if element.values.get("fill-rule") == "evenodd" else "nonzero"
        region = filled([line for line, _ in lines], rule)
        if region:
            made.append(Paint(region, fill))
    stroke = _colour(element.stroke, element.values.get("stroke"))
    width = float(element.implicit_stroke_width or 0)
    if stroke is not None and 0 < width < FLAT:
        outlines = [outline for line, closed in lines for outline in _widened(line, closed, width, element)]
        if outlines:
            made.append(Paint(filled(outlines), stroke))
    return made


def _widened(line: Outline, closed: bool, width: float, element: Any) -> list[Outline]:
    join = JOINS.get(str(element.values.get("stroke-linejoin")), "mitre")
    cap = CAPS.get(str(element.values.get("stroke-linecap")), "flat")
    limit = _number(element.values.get("stroke-miterlimit"), 4.0)
    places = np.concatenate([line, line[:2]]) if closed else line
    covered = LineString(places).buffer(width / 2, cap_style=cap, join_style=join, mitre_limit=max(limit, 1.0))  # pyright: ignore
    if closed:
        # Drawn twice over its first side, the join at the start is as the others; what the caps cover lies within.
        covered = covered.buffer(0)
    parts = covered.geoms if isinstance(covered, MultiPolygon) else [covered]
    outlines: list[Outline] = []
    for part in parts:
        if isinstance(part, Polygon) and not part.is_empty:
            rings = [(part.exterior, True), *((ring, False) for ring in part.interiors)]
            for ring, outside in rings:
                places = np.asarray(ring.coords, dtype=np.float64)[:-1]
                outlines.append(places if ring.is_ccw == outside else places[::-1])
    return outlines


def _colour(colour: svg.Color | None, paint: object) -> tuple[float, float, float] | None:
    """The linear colour of a fill or stroke; None where there is none."""
    if colour is None or colour.value is None or colour.alpha == 0:
        return None
    return linear_from_hex(f"#{colour.red:02X}{colour.green:02X}{colour.blue:02X}")


def _number(length: object, otherwise: float) -> float:
    try:
        return float(str(length))
    except ValueError:
        return otherwise


def _notes(content: bytes) -> list[str]:
    left = [name for name in UNREAD if re.search(rf"<(\w+:)?{name}\b".encode(), content)]
    return [f"Left out: {', '.join(left)}. Turn them into outlines if they matter."] if left else []
