# pyright: reportAttributeAccessIssue=false
# The library's names come from compiled modules that declare no types.
"""USD out: a range of frames as one stage with time samples. usd-core writes it."""

from __future__ import annotations

import re
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pxr import Gf, Kind, Sdf, Usd, UsdGeom, UsdShade, Vt

from windsock.core.document.items import Camera
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.frame import Evaluator
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.timing.parameter import Moment
from windsock.formats.colours import tinted
from windsock.writers.fields import named_values
from windsock.writers.moving import Reel, Track
from windsock.writers.writer import ReelWriter

FieldValues = Callable[[DrawItem, int], dict[str, NDArray[np.float64]]]
"""For what is drawn and the place of a frame, the values of the shot's fields at its points, by name."""

SENSOR = 24.0
"""Millimetres of the camera's sensor from bottom to top; the angle of view rules, any sensor would do."""


class UsdWriter(ReelWriter):
    """USD that moves, one file for all frames."""

    name = "usd"
    called = "USD that moves"
    ending = "usdc"
    media = "model/vnd.usd"

    def write(self, reel: Reel, evaluator: Evaluator) -> bytes:
        return write_usd(reel, lambda item, place: named_values(evaluator, reel.shot, item, reel.frames[place]))


def write_usd(reel: Reel, fields: FieldValues) -> bytes:
    """The frames as a binary stage (.usdc) in metres, Y up, a time code for each frame."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "shot.usdc"
        stage: Any = Usd.Stage.CreateNew(str(path))
        UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y)
        UsdGeom.SetStageMetersPerUnit(stage, 1.0)
        stage.SetTimeCodesPerSecond(reel.shot.rate.fps)
        stage.SetFramesPerSecond(reel.shot.rate.fps)
        stage.SetStartTimeCode(reel.frames[0])
        stage.SetEndTimeCode(reel.frames[-1])
        root = UsdGeom.Xform.Define(stage, "/Shot")
        Usd.ModelAPI(root).SetKind(Kind.Tokens.component)
        root.GetPrim().SetDisplayName(reel.shot.name)
        stage.SetDefaultPrim(root.GetPrim())
        names: set[str] = set()
        for track in reel.tracks:
            _shape(stage, reel, track, f"/Shot/{_word(track.name, names)}", fields)
        camera = reel.shot.items.get(reel.shot.camera) if reel.shot.camera else None
        if isinstance(camera, Camera) and reel.shot.camera:
            _camera(stage, reel, camera, reel.shot.camera, f"/Shot/{_word(camera.name, names)}")
        stage.GetRootLayer().Save()
        return path.read_bytes()


def _word(name: str, names: set[str]) -> str:
    """A name that USD takes, and that no other prim has."""
    stem = re.sub(r"[^A-Za-z0-9_]+", "_", name).strip("_") or "Item"
    stem = stem if not stem[0].isdigit() else f"_{stem}"
    word, number = stem, 1
    while word in names:
        number += 1
        word = f"{stem}_{number}"
    names.add(word)
    return word


def _shape(stage: Any, reel: Reel, track: Track, path: str, fields: FieldValues) -> None:
    mesh: Any = UsdGeom.Mesh.Define(stage, path)
    mesh.GetPrim().SetDisplayName(track.name)
    mesh.CreateSubdivisionSchemeAttr().Set(UsdGeom.Tokens.none)
    first = track.seen[0]
    doubled = first.body.backs != "hidden"
    mesh.CreateDoubleSidedAttr().Set(doubled)
    transform = mesh.AddTransformOp()
    shown = mesh.CreateVisibilityAttr()
    indices, counts = mesh.CreateFaceVertexIndicesAttr(), mesh.CreateFaceVertexCountsAttr()
    points, extent, normals = mesh.CreatePointsAttr(), mesh.CreateExtentAttr(), mesh.CreateNormalsAttr()
    mesh.SetNormalsInterpolation(UsdGeom.Tokens.vertex)
    api = UsdGeom.PrimvarsAPI(mesh)
    _look(stage, path, mesh, first, reel.shot.moment(reel.frames[0]))
    tinted_once = tinted(first.body.mesh, first.body.look) is not None
    colour = (
        api.CreatePrimvar("displayColor", Sdf.ValueTypeNames.Color3fArray, UsdGeom.Tokens.vertex)
        if tinted_once
        else None
    )
    uv = api.CreatePrimvar("st", Sdf.ValueTypeNames.TexCoord2fArray, UsdGeom.Tokens.vertex)
    last_key: str | None = None
    faces_told: NDArray[np.int32] | None = None
    visible: bool | None = None
    for place, one in enumerate(track.drawn):
        code = Usd.TimeCode(reel.frames[place])
        transform.Set(Gf.Matrix4d(*reel.placements[place][track.item].T.ravel().tolist()), code)
        if visible is not (one is not None):
            visible = one is not None
            shown.Set(UsdGeom.Tokens.inherited if visible else UsdGeom.Tokens.invisible, code)
        if one is None:
            continue
        body = one.body.mesh
        values = fields(one, place)
        # Samples are interpolated: what stays for a while and then moves has one at every frame.
        moved = last_key != one.key or not track.rigid
        last_key = one.key
        if moved:
            if faces_told is None or not np.array_equal(faces_told, body.faces):
                indices.Set(Vt.IntArray.FromNumpy(body.faces.reshape(-1)), code)
                counts.Set(Vt.IntArray(len(body.faces), 3), code)
                faces_told = body.faces
            points.Set(Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(body.points)), code)
            normals.Set(Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(body.normals)), code)
            box = np.stack([body.points.min(axis=0), body.points.max(axis=0)]).astype(np.float32)
            extent.Set(Vt.Vec3fArray.FromNumpy(box), code)
            laid = body.uv if body.uv is not None else np.zeros((len(body.points), 2), dtype=np.float32)
            uv.Set(Vt.Vec2fArray.FromNumpy(np.ascontiguousarray(laid)), code)
            tint = tinted(body, one.body.look)
            if colour is not None and tint is not None:
                colour.Set(Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(tint[:, :3])), code)
        for name, held in values.items():
            primvar = api.CreatePrimvar(name, Sdf.ValueTypeNames.FloatArray, UsdGeom.Tokens.vertex)
            primvar.Set(Vt.FloatArray.FromNumpy(held.astype(np.float32)), code)


def _look(stage: Any, path: str, mesh: Any, item: DrawItem, at: Moment) -> None:
    """The look as a preview surface; where points have colours of their own, it reads them."""
    look, body = item.body.look, item.body.mesh
    material: Any = UsdShade.Material.Define(stage, f"{path}/Look")
    shader: Any = UsdShade.Shader.Define(stage, f"{path}/Look/Surface")
    shader.CreateIdAttr("UsdPreviewSurface")
    base = shader.CreateInput("diffuseColor", Sdf.ValueTypeNames.Color3f)
    if tinted(body, look) is None:
        base.Set(Gf.Vec3f(*linear_from_hex(look.base_colour)))
    else:
        reader: Any = UsdShade.Shader.Define(stage, f"{path}/Look/Colours")
        reader.CreateIdAttr("UsdPrimvarReader_float3")
        reader.CreateInput("varname", Sdf.ValueTypeNames.String).Set("displayColor")
        base.ConnectToSource(reader.CreateOutput("result", Sdf.ValueTypeNames.Float3))
    emitted = np.array(linear_from_hex(look.emission_colour)) * at(look.emission)
    shader.CreateInput("emissiveColor", Sdf.ValueTypeNames.Color3f).Set(Gf.Vec3f(*emitted.tolist()))
    for name, value in (("metallic", look.metallic), ("roughness", look.roughness), ("opacity", look.opacity)):
        shader.CreateInput(name, Sdf.ValueTypeNames.Float).Set(float(at(value)))
    material.CreateSurfaceOutput().ConnectToSource(shader.CreateOutput("surface", Sdf.ValueTypeNames.Token))
    UsdShade.MaterialBindingAPI.Apply(mesh.GetPrim()).Bind(material)


def _camera(stage: Any, reel: Reel, camera: Camera, item: str, path: str) -> None:
    made: Any = UsdGeom.Camera.Define(stage, path)
    made.GetPrim().SetDisplayName(camera.name)
    transform = made.AddTransformOp()
    made.CreateVerticalApertureAttr().Set(SENSOR)
    made.CreateHorizontalApertureAttr().Set(SENSOR * reel.shot.picture.width / reel.shot.picture.height)
    made.CreateClippingRangeAttr().Set(Gf.Vec2f(0.05, 100_000.0))
    focal = made.CreateFocalLengthAttr()
    for place, frame in enumerate(reel.frames):
        code = Usd.TimeCode(frame)
        transform.Set(Gf.Matrix4d(*reel.placements[place][item].T.ravel().tolist()), code)
        angle = np.radians(reel.shot.moment(frame)(camera.angle))
        focal.Set(float(SENSOR / 2 / np.tan(angle / 2)), code)
