"""Text, extruded drawings and sweeps: closed, as large as their letters, and finely meshed throughout."""

from __future__ import annotations

import numpy as np
import pytest
from shots import closed_volume, edge_lengths_at_border, evaluator, parsed, times_of_edges

from windsock.core.geometry.course import course_of, frames
from windsock.core.geometry.drawing import Drawing, Paint, Stroke, line_points
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.region import area, filled, inset, sampled
from windsock.core.geometry.slab import Slab, raised
from windsock.core.kernels.triangulation import border_distance, inside, meshed
from windsock.core.refusals import Refusal, TooMuch
from windsock.core.shapes.extrude import Extrude, build_extrude
from windsock.core.shapes.sweep import Sweep, build_sweep
from windsock.core.shapes.text import Text, build_text
from windsock.core.timing.parameter import Moment
from windsock.formats.font import SHIPPED, shipped_font

NOW = Moment(0, 0)
TURN = np.linspace(0, 2 * np.pi, 97)[:-1]
CIRCLE = np.column_stack([np.cos(TURN), np.sin(TURN)])


def text(words: str, **given: object) -> Mesh:
    told = Text(words=words, **given)  # type: ignore[arg-type]
    return build_text(told, NOW, shipped_font(told.font))


@pytest.mark.parametrize("font", list(SHIPPED))
@pytest.mark.parametrize("bevel", [0.0, 0.03])
def test_text_is_watertight_in_every_font(font, bevel):
    mesh = text("Kestrel\nR&8%@", font=font, bevel=bevel, face_size=0.08)
    assert (times_of_edges(mesh) == 2).all()
    assert closed_volume(mesh) > 0


def test_the_volume_of_a_text_is_the_area_of_its_letters_times_its_depth():
    """A plain slab: both caps are the same region, so nothing but sampling curves can differ."""
    font = shipped_font("grotesque")
    glyphs, _ = font.line("H", True, 0.0)
    letter = filled(glyphs[0].outlines)
    assert closed_volume(text("H", size=2.0, depth=0.3)) == pytest.approx(area(letter) * 4 * 0.3, rel=1e-4)
    curved, _ = font.line("S", True, 0.0)
    assert closed_volume(text("S", depth=0.3)) == pytest.approx(area(filled(curved[0].outlines)) * 0.3, rel=0.01)


@pytest.mark.parametrize("size", [0.04, 0.1])
def test_faces_are_about_as_large_as_wished_on_caps_and_sides(size):
    mesh = text("KP", depth=0.5, face_size=size)
    corners = mesh.points[mesh.faces].astype(float)
    edges = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2)
    flat = np.abs(mesh.normals[mesh.faces[:, 0], 2]) > 0.99
    for part in (flat, ~flat):
        assert np.quantile(edges[part], 0.95) < 1.6 * size
        assert np.median(edges[part]) > 0.4 * size


def test_capitals_are_as_high_as_told_and_lines_stand_above_each_other():
    mesh = text("H\nH", size=0.7, leading=2.0)
    assert mesh.points[:, 1].min() == pytest.approx(0.0, abs=1e-6)
    assert mesh.points[:, 1].max() == pytest.approx(0.7 * 3, rel=1e-5)
    assert set(mesh.measures["line"]) == {0.0, 1.0}


def test_alignment_tracking_and_kerning_move_letters():
    def extent(**given: object) -> tuple[float, float]:
        points = text("AV", face_size=0.2, **given).points
        return float(points[:, 0].min()), float(points[:, 0].max())

    left, middle, right = (extent(align=align) for align in ("left", "middle", "right"))
    assert left[0] >= 0
    assert middle[0] + middle[1] == pytest.approx(0.0, abs=0.1)
    assert right[1] <= 1e-6
    wide, plain, loose = extent(tracking=0.5), extent(), extent(kerning=False)
    assert (wide[1] - wide[0]) - (plain[1] - plain[0]) == pytest.approx(0.5, abs=1e-3)
    # A and V lean towards each other in any font that has a pair for them.
    assert loose[1] - loose[0] > plain[1] - plain[0] + 0.02


def test_points_know_their_letter_word_and_line_and_a_field_can_read_them():
    mesh = text("ab c", face_size=0.2)
    assert sorted(set(mesh.measures["letter"])) == [0, 1, 2]
    assert sorted(set(mesh.measures["word"])) == [0, 1]
    right = mesh.points[:, 0] > np.quantile(mesh.points[:, 0], 0.95)
    assert (mesh.measures["letter"][right] == 2).all()
    reading = {"kind": "surface", "rank": 0, "reading": "attribute", "attribute": "letter", "low": 0.4, "high": 0.6}
    step = {"kind": "cut_away", "rank": 0, "field": "f"}
    shape = {
        "kind": "shape", "name": "T", "rank": 0, "geometry": {"kind": "text", "words": "ab", "face_size": 0.2},
        "recipe": {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": {"cut": step}},
    }  # fmt: skip
    field = {"letter": "A", "name": "F", "rank": 0, "band": 0.0, "sources": {"s": reading}}
    one = evaluator()
    shot = parsed({"name": "T", "items": {"t": shape}, "fields": {"f": field}})
    left = one.frame(shot, 0).draw[0].body.mesh
    whole = one.at_rest(one.scene(shot, 0), "t").value.mesh
    assert left.points[:, 0].max() < whole.points[:, 0].max() - 0.2
    assert left.points[:, 0].min() == pytest.approx(whole.points[:, 0].min())


def test_text_without_letters_and_text_of_too_many_faces_are_refused():
    with pytest.raises(Refusal, match="no letters"):
        text(" \n ")
    with pytest.raises(TooMuch, match="larger faces"):
        text("WWWWWWWW", size=100.0, face_size=0.01)
    assert shipped_font("stencil").missing("aŁ中 ") == "Ł中"


@pytest.mark.parametrize("form", ["straight", "round", "hollow"])
def test_a_bevel_stays_within_the_slab_and_takes_what_its_form_says(form):
    """A straight bevel on a disc is a cone: by Pappus its missing ring has the area b^2 / 2 at radius R - b / 3."""
    slab = Slab(depth=0.4, spacing=0.04, bevel=0.1, form=form, bevel_rows=8)
    mesh = raised([CIRCLE], slab)
    assert (times_of_edges(mesh) == 2).all()
    assert np.abs(mesh.points[:, 2]).max() == pytest.approx(0.2)
    plain = closed_volume(raised([CIRCLE], Slab(depth=0.4, spacing=0.04)))
    missing = {"straight": 0.5, "round": 1 - np.pi / 4, "hollow": np.pi / 4}[form] * 0.1**2 * 2 * np.pi * 0.97 * 2
    assert plain - closed_volume(mesh) == pytest.approx(missing, rel=0.06)


def test_triangles_keep_the_border_and_fill_the_region_exactly():
    hole = 0.5 * CIRCLE[::-1]
    loops = [sampled(CIRCLE, 0.1), sampled(hole, 0.1)]
    found = meshed(loops, [], 0.1, 0.1)
    assert found is not None
    points, faces, rings = found
    a, b, c = (points[faces[:, corner]] for corner in range(3))
    areas = ((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0]) / 2
    assert (areas > 0).all()
    assert areas.sum() == pytest.approx(area(loops), rel=1e-9)
    assert [len(ring) for ring in rings] == [len(loop) for loop in loops]


def test_nearness_to_a_border_and_lying_inside_agree_with_shapely():
    shapely = pytest.importorskip("shapely")
    ring = shapely.Polygon(CIRCLE, [0.5 * CIRCLE])
    places = np.random.default_rng(1).uniform(-1.2, 1.2, (300, 2))
    loops = [CIRCLE, 0.5 * CIRCLE[::-1]]
    expected = [ring.boundary.distance(shapely.Point(place)) for place in places]
    np.testing.assert_allclose(border_distance(places, loops), expected, atol=1e-9)
    np.testing.assert_array_equal(inside(places, loops), [ring.contains(shapely.Point(place)) for place in places])


def test_an_inset_is_a_smaller_disc():
    assert area(inset([CIRCLE], 0.25)) == pytest.approx(np.pi * 0.75**2, rel=2e-3)
    assert inset([CIRCLE], 1.1) == []


def test_a_drawing_is_extruded_in_its_colours_with_sharp_borders():
    red, blue = (1.0, 0.0, 0.0), (0.0, 0.0, 1.0)
    square = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1.0]])
    drawing = Drawing([Paint([square], red), Paint([0.5 * CIRCLE], blue)])
    mesh = build_extrude(Extrude(asset="0" * 64, height=2.0, depth=0.3, face_size=0.1), NOW, drawing)
    assert (times_of_edges(mesh) == 2).all()
    assert closed_volume(mesh) == pytest.approx(4 * 0.3, rel=1e-5)
    assert mesh.colour is not None
    assert {tuple(colour) for colour in mesh.colour.tolist()} == {red, blue}
    radius = np.linalg.norm(mesh.points[:, :2], axis=1)
    assert (mesh.colour[radius < 0.4, 2] == 1).all()
    assert (mesh.colour[radius > 0.6, 0] == 1).all()
    plain = build_extrude(Extrude(asset="0" * 64, painted=False), NOW, drawing)
    assert plain.colour is None


def test_lines_of_a_drawing_become_points_with_handles():
    curve = np.array([[[0, 0], [1, 0], [2, 1], [3, 1]], [[3, 1], [4, 1], [0, 4], [0, 0.0]]])
    points = line_points(Stroke(curve, closed=True))
    assert [point.place for point in points] == [(0, 0, 0), (3, 1, 0)]
    assert (points[0].after, points[0].before) == ((1, 0, 0), (0, 4, 0))
    assert len(line_points(Stroke(curve[:1], closed=False))) == 2


# Sweeps


def straight(length: float = 2.0):
    return course_of(np.array([[0, 0, 0], [length, 0, 0.0]]), [(None, None)] * 2, [True, True], False)


@pytest.mark.parametrize("section", ["round", "square"])
def test_a_sweep_along_a_line_is_a_prism(section):
    mesh = build_sweep(Sweep(path="p", section=section, width=0.4, height=0.2, sides=64), NOW, straight())
    assert (times_of_edges(mesh) == 2).all()
    across = 0.4 * 0.2 if section == "square" else 32 * np.sin(2 * np.pi / 64) * 0.2 * 0.1
    assert closed_volume(mesh) == pytest.approx(across * 2.0, rel=1e-5)


@pytest.mark.parametrize("count", [16, 48])
def test_a_sweep_round_a_circle_obeys_pappus(count):
    angle = 2 * np.pi * np.arange(count) / count
    ring = np.column_stack([np.cos(angle), np.zeros(count), np.sin(angle)])
    course = course_of(ring, [(None, None)] * count, [True] * count, True)
    mesh = build_sweep(Sweep(path="p", width=0.3, height=0.3, sides=48, spacing=0.03), NOW, course)
    assert (times_of_edges(mesh) == 2).all()
    assert closed_volume(mesh) == pytest.approx(np.pi * 0.15**2 * 2 * np.pi, rel=0.01)


def test_frames_do_not_turn_about_a_plane_curve_and_close_on_a_closed_one():
    angle = np.linspace(0, 2 * np.pi, 200)
    knot = np.column_stack(
        [np.sin(angle) + 2 * np.sin(2 * angle), np.cos(angle) - 2 * np.cos(2 * angle), -np.sin(3 * angle)]
    )
    along, across, up = frames(knot, True)
    np.testing.assert_allclose(np.cross(across, up), along, atol=1e-9)
    np.testing.assert_allclose(up[0], up[-1], atol=1e-6)
    flat = np.column_stack([np.cos(angle), np.sin(angle), 0 * angle])
    _, across, up = frames(flat[:150], False)
    normal = across if abs(across[0, 2]) > 0.5 else up
    assert np.ptp(normal[:, 2]) < 1e-9


def test_a_sweep_that_grows_keeps_the_numbers_of_what_is_there():
    def numbers(end: float) -> dict[int, tuple[float, ...]]:
        mesh = build_sweep(Sweep(path="p", end=end), NOW, straight())
        return {int(number): tuple(np.round(place, 5)) for number, place in zip(mesh.number, mesh.points, strict=True)}

    short, long = numbers(0.5), numbers(0.9)
    shared = [number for number in short if number < 2**40 and number in long]
    same = [number for number in shared if short[number] == long[number]]
    assert len(same) > 0.9 * len(shared) > 100


def test_a_sweep_follows_its_path_of_the_shot_and_moves_when_that_is_keyed():
    keyed = {"keys": {"a": {"frame": 0, "value": [1, 0, 0]}, "b": {"frame": 10, "value": [3, 0, 0]}}}
    points = {"p1": {"rank": 0, "place": [0, 0, 0]}, "p2": {"rank": 1, "place": keyed}}
    path = {"kind": "path", "name": "Path", "rank": 0, "points": points, "place": [0, 5, 0]}
    shape = {"kind": "shape", "name": "S", "rank": 1, "geometry": {"kind": "sweep", "path": "path"}, "parent": "path"}
    shot = parsed({"name": "Sweep", "items": {"path": path, "s": shape}})
    one = evaluator()
    for frame, end in ((0, 1.0), (5, 2.0), (10, 3.0)):
        drawn = one.frame(shot, frame).draw[0]
        assert drawn.body.mesh.points[:, 0].max() == pytest.approx(end, abs=1e-5)
        assert drawn.matrix[1, 3] == 5
    with pytest.raises(Refusal, match="not a path"):
        parsed({"name": "Sweep", "items": {"s": {**shape, "parent": None}}})


def test_text_without_a_depth_is_one_open_sheet_that_faces_forward():
    mesh = text("l", depth=0.0)
    assert len(edge_lengths_at_border(mesh)[0]) > 0
    np.testing.assert_allclose(mesh.normals, [[0, 0, 1]] * len(mesh.points), atol=1e-6)
