"""glTF 2.0 in: meshes with node transforms, skins, morph targets and animation, vertex colours, pictures."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.clip import Clip, Pose
from windsock.core.geometry.mesh import FACE_LIMIT, Mesh, are_triangles
from windsock.core.geometry.pictures import Pictures
from windsock.core.kernels.bodies import linear_parts
from windsock.core.refusals import Refusal
from windsock.formats.glb_look import TRANSFORM, Looks
from windsock.formats.gltf_data import BROKEN, Channel, Data, Tree
from windsock.formats.gltf_open import opened_glb, opened_gltf
from windsock.formats.limits import MOMENT_LIMIT, POINT_LIMIT, POSE_LIMIT
from windsock.formats.scene import MOST_MEASURES, checked, joined

INSTANCING = "EXT_mesh_gpu_instancing"
READABLE_EXTENSIONS = {
    "KHR_materials_unlit",
    "KHR_materials_emissive_strength",
    TRANSFORM,
    INSTANCING,
}
RATE = 30.0
"""Moments in a second at which a movement is kept; between them points go straight."""

Floats = NDArray[np.float64]


@dataclass
class Piece:
    """One primitive where a node puts it."""

    node: int
    mesh: Mesh
    skin: int | None
    joints: NDArray[np.int64] | None = None
    weights: Floats | None = None
    shifts: list[tuple[Floats, Floats | None]] = field(default_factory=list[tuple[Floats, Floats | None]])
    resting: Floats = field(default_factory=lambda: np.zeros(0))


def read_glb(content: bytes) -> Mesh | Clip:
    """All triangles of a GLB file in one mesh; a clip where its animations move them. Raises Refusal."""
    return read_data(opened_glb(content))


def read_gltf(content: bytes) -> Mesh | Clip:
    """The same of a glTF file that has all that belongs to it within."""
    return read_data(opened_gltf(content))


def read_data(data: Data) -> Mesh | Clip:
    """All triangles of an opened file. Raises Refusal."""
    required = set(data.root.get("extensionsRequired", [])) - READABLE_EXTENSIONS
    if required:
        raise Refusal(
            f"The file needs {', '.join(sorted(map(str, required)))}, which is not read here. Nothing was imported. Write it without compression or extensions."
        )
    counts = [accessor.get("count", 0) for accessor in data.root.get("accessors", [])]
    if (
        any(not isinstance(count, int) or not 0 <= count <= POINT_LIMIT for count in counts)
        or sum(counts) > 8 * POINT_LIMIT
    ):
        raise Refusal(
            f"The file says that it has more points or faces than the limit of {FACE_LIMIT:,} faces. Nothing was imported. Reduce it before writing it."
        )
    try:
        return _read(data)
    except (TypeError, ValueError, KeyError, IndexError, AttributeError, AssertionError, OverflowError):
        raise Refusal(BROKEN) from None


def _read(data: Data) -> Mesh | Clip:
    tree, looks = Tree(data), Looks(data)
    pieces: list[Piece] = []
    for node, _ in tree.order:
        data_of_node = tree.nodes[node]
        if "mesh" in data_of_node:
            pieces += _pieces(data, looks, node, data_of_node)
        if sum(len(piece.mesh.faces) for piece in pieces) > FACE_LIMIT:
            raise Refusal(
                f"The file has more than {FACE_LIMIT:,} faces. Nothing was imported. Reduce it before writing it."
            )
    if not pieces:
        raise Refusal("The file holds no faces. Nothing was imported. Write it with its surfaces as faces.")
    channels = [channel for channel in tree.channels() if len(channel.seconds) > 1]
    if any(len(piece.mesh.normals) == 0 for piece in pieces):
        pieces = [
            replace(piece, mesh=replace(piece.mesh, normals=np.zeros_like(piece.mesh.points))) for piece in pieces
        ]
        keeps = False
    else:
        keeps = True
    first = _posed(data, tree, pieces, _moved(channels, 0.0) if channels else {})
    mesh = checked(joined(first), keeps)
    return _clip(data, tree, pieces, channels, mesh, keeps) if channels else mesh


def _clip(data: Data, tree: Tree, pieces: list[Piece], channels: list[Channel], mesh: Mesh, keeps: bool) -> Mesh | Clip:
    start = min(float(channel.seconds[0]) for channel in channels)
    length = max(float(channel.seconds[-1]) for channel in channels) - start
    count = int(np.ceil(length * RATE - 1e-6)) + 1
    if count > MOMENT_LIMIT or count * len(mesh.points) > POSE_LIMIT:
        raise Refusal(
            f"The file moves {len(mesh.points):,} points over {length:.1f} s, which is more than is kept. Nothing was imported. "
            f"Shorten it to {min(MOMENT_LIMIT, POSE_LIMIT // max(len(mesh.points), 1)) / RATE:.1f} s, or reduce it."
        )
    poses: list[Pose] = []
    seconds = np.minimum(np.arange(count) / RATE, length)
    for moment in seconds:
        posed = checked(joined(_posed(data, tree, pieces, _moved(channels, start + float(moment)))), keeps)
        poses.append(Pose(posed.points, posed.normals))
    if all(np.allclose(pose.points, mesh.points, atol=1e-7) for pose in poses):
        return mesh
    return Clip(
        replace(mesh, points=poses[0].points, rest=poses[0].points, normals=poses[0].normals), seconds, tuple(poses)
    )


def _moved(channels: list[Channel], seconds: float) -> dict[tuple[int, str], Floats]:
    return {(channel.node, channel.property): channel.at(seconds) for channel in channels}


def _pieces(data: Data, looks: Looks, node: int, node_data: dict[str, Any]) -> list[Piece]:
    mesh = data.one("meshes", node_data["mesh"])
    skin = node_data.get("skin")
    made: list[Piece] = []
    for primitive in mesh.get("primitives", []):
        faces = _faces(data, primitive)
        if faces is None or len(faces) == 0:
            continue
        given = primitive.get("attributes", {})
        points = data.array(given.get("POSITION")).astype(np.float32)
        if faces.max() >= len(points) or points.shape[1] != 3:
            raise Refusal(
                "Faces of the file name points that it does not have. Nothing was imported. Write it again from where it was made."
            )
        piece = Piece(node, _plain(data, looks, primitive, points, faces), skin if isinstance(skin, int) else None)
        if piece.skin is not None and "JOINTS_0" in given and "WEIGHTS_0" in given:
            piece.joints = data.array(given["JOINTS_0"]).astype(np.int64)
            weights = data.array(given["WEIGHTS_0"]).astype(np.float64)
            piece.weights = weights / np.maximum(weights.sum(axis=1, keepdims=True), 1e-9)
            piece.mesh = replace(piece.mesh, measures={**piece.mesh.measures, **_weight_measures(data, piece)})
        for target in primitive.get("targets", [])[:256]:
            shift = (
                data.array(target["POSITION"]).astype(np.float64)
                if "POSITION" in target
                else np.zeros((len(points), 3))
            )
            turned = data.array(target["NORMAL"]).astype(np.float64) if "NORMAL" in target else None
            if shift.shape != points.shape or (turned is not None and turned.shape != points.shape):
                raise Refusal(BROKEN)
            piece.shifts.append((shift, turned))
        piece.resting = np.resize(
            np.array(node_data.get("weights", mesh.get("weights", [])) or [0.0], dtype=np.float64),
            max(len(piece.shifts), 1),
        )
        if INSTANCING in node_data.get("extensions", {}):
            piece.mesh = _copied(data, piece.mesh, node_data["extensions"][INSTANCING])
            piece.shifts = []
        made.append(piece)
    return made


def _copied(data: Data, mesh: Mesh, node_data: dict[str, Any]) -> Mesh:
    """A mesh once for each of its copies, in the space of their node."""
    given = node_data.get("attributes", {})
    named = {
        name: data.array(given[name]).astype(np.float64)
        for name in ("TRANSLATION", "ROTATION", "SCALE")
        if name in given
    }
    counts = {len(values) for values in named.values()}
    if len(counts) != 1 or any(values.shape[1] != (4 if name == "ROTATION" else 3) for name, values in named.items()):
        raise Refusal(BROKEN)
    count, size = counts.pop(), len(mesh.points)
    if count * len(mesh.faces) > FACE_LIMIT or count * size > POINT_LIMIT:
        raise Refusal(
            f"The copies in the file have more than {FACE_LIMIT:,} faces together. Nothing was imported. Write fewer of them."
        )
    finite = all(np.isfinite(values).all() for values in named.values())
    if not finite:
        raise Refusal(BROKEN)
    places = named.get("TRANSLATION", np.zeros((count, 3)))
    turns, sizes = named.get("ROTATION", np.tile([0.0, 0, 0, 1], (count, 1))), named.get("SCALE", np.ones((count, 3)))
    turns = (turns / np.maximum(np.linalg.norm(turns, axis=1, keepdims=True), 1e-12)).astype(np.float32)
    linear = linear_parts(turns, sizes)
    points = np.einsum("kij,pj->kpi", linear, mesh.points.astype(np.float64)) + places[:, None]
    unsized = linear_parts(turns, 1 / np.where(np.abs(sizes) < 1e-9, 1e-9, sizes))
    normals = np.einsum("kij,pj->kpi", unsized, mesh.normals.astype(np.float64)).reshape(-1, 3)
    tiled = mesh.taken(np.tile(np.arange(size), count)) if len(mesh.normals) else mesh
    faces = (mesh.faces[None] + (np.arange(count) * size)[:, None, None]).reshape(-1, 3).astype(np.int32)
    at = points.reshape(-1, 3).astype(np.float32)
    measures = {name: np.tile(values, count) for name, values in mesh.measures.items()}
    pictures = None if mesh.pictures is None else mesh.pictures.of(np.tile(np.arange(len(mesh.faces)), count))
    if len(mesh.normals) == 0:
        tiled = replace(mesh, normals=np.zeros_like(mesh.points)).taken(np.tile(np.arange(size), count))
        normals = normals[:0]
    return replace(
        tiled,
        points=at,
        rest=at,
        normals=normals.astype(np.float32),
        faces=faces,
        origin=None,
        number=np.arange(len(at), dtype=np.int64),
        pictures=pictures,
        measures=measures,
    )


def _faces(data: Data, primitive: dict[str, Any]) -> NDArray[np.int32] | None:
    """(m, 3) faces of a primitive; strips and fans as single triangles. None for points and lines."""
    mode = primitive.get("mode", 4)
    if mode not in (4, 5, 6):
        return None
    if "indices" in primitive:
        index = data.array(primitive["indices"]).astype(np.int64).ravel()
    else:
        index = np.arange(len(data.array(primitive["attributes"]["POSITION"])))
    if mode == 4:
        return index[: len(index) // 3 * 3].reshape(-1, 3).astype(np.int32)
    if len(index) < 3:
        return None
    if mode == 6:
        return np.stack([np.full(len(index) - 2, index[0]), index[1:-1], index[2:]], axis=1).astype(np.int32)
    strip = np.stack([index[:-2], index[1:-1], index[2:]], axis=1)
    strip[1::2] = strip[1::2, [1, 0, 2]]
    proper = are_triangles(strip)
    return strip[proper].astype(np.int32)


def _plain(
    data: Data, looks: Looks, primitive: dict[str, Any], points: NDArray[np.float32], faces: NDArray[np.int32]
) -> Mesh:
    """The primitive in its own space. Without normals in the file the mesh has none yet."""
    given = primitive["attributes"]
    count = len(points)

    def attribute(name: str, columns: int) -> NDArray[np.float32] | None:
        if name not in given:
            return None
        found = data.array(given[name])
        if len(found) != count or found.shape[1] < columns:
            raise Refusal(BROKEN)
        return found[:, :columns].astype(np.float32)

    normals = attribute("NORMAL", 3)
    surface = looks.of(primitive, attribute("COLOR_0", 3), count)
    measures = {}
    for name in sorted(given):
        found = data.array(given[name]) if str(name).startswith("_") else None
        plain = "".join(one for one in str(name).lstrip("_").lower() if one.isprintable())[:60]
        if found is not None and len(found) == count and plain:
            columns = min(found.shape[1], 4)
            names = [plain] if columns == 1 else [f"{plain} {place + 1}" for place in range(columns)]
            values = np.nan_to_num(found.astype(np.float32), posinf=0, neginf=0)
            measures |= {one: values[:, place] for place, one in enumerate(names)}
    return Mesh(
        points=points,
        rest=points,
        normals=np.zeros((0, 3), np.float32) if normals is None else normals,
        faces=faces,
        number=np.arange(count, dtype=np.int64),
        uv=surface.uv,
        colour=surface.colour,
        pictures=None if surface.picture is None else Pictures((surface.picture,), np.zeros(len(faces), np.int32)),
        measures=dict(list(measures.items())[:MOST_MEASURES]),
    )


def _weight_measures(data: Data, piece: Piece) -> dict[str, NDArray[np.float32]]:
    """The weight of every joint at the points, by the joint's name: numbers that a field can read."""
    assert piece.joints is not None
    assert piece.weights is not None
    joints = data.one("skins", piece.skin).get("joints", [])
    found: dict[str, NDArray[np.float32]] = {}
    for place in np.unique(piece.joints[piece.weights > 0])[:MOST_MEASURES].tolist():
        if place >= len(joints):
            raise Refusal(BROKEN)
        name = str(data.one("nodes", joints[place]).get("name", f"joint {place}"))
        plain = "".join(one for one in name if one.isprintable())[:50] or f"joint {place}"
        found[f"weight of {plain}"] = np.where(piece.joints == place, piece.weights, 0).sum(axis=1).astype(np.float32)
    return found


def _posed(data: Data, tree: Tree, pieces: list[Piece], moved: dict[tuple[int, str], Floats]) -> list[Mesh]:
    """The pieces in the scene's space, bent and moved."""
    matrices = tree.matrices(moved)
    skins: dict[int, Floats] = {}
    made: list[Mesh] = []
    for piece in pieces:
        points, normals = piece.mesh.points.astype(np.float64), piece.mesh.normals.astype(np.float64)
        if piece.shifts:
            weights = np.resize(moved.get((piece.node, "weights"), piece.resting), len(piece.shifts))
            for weight, (shift, turned) in zip(weights, piece.shifts, strict=True):
                points = points + weight * shift
                normals = normals if turned is None else normals + weight * turned
        if piece.skin is not None and piece.joints is not None and piece.weights is not None:
            if piece.skin not in skins:
                skins[piece.skin] = _skin(data, piece.skin, matrices)
            held = skins[piece.skin]
            if piece.joints.max(initial=0) >= len(held):
                raise Refusal(BROKEN)
            mixed = np.einsum("nj,njab->nab", piece.weights, held[piece.joints])
            points = np.einsum("nab,nb->na", mixed[:, :3, :3], points) + mixed[:, :3, 3]
            normals = np.einsum("nab,nb->na", mixed[:, :3, :3], normals)
            flipped = False
        else:
            matrix = matrices[piece.node]
            points = points @ matrix[:3, :3].T + matrix[:3, 3]
            straight = float(np.linalg.det(matrix[:3, :3]))
            normals = normals @ np.linalg.inv(matrix[:3, :3]) if abs(straight) > 1e-18 else normals
            flipped = straight < 0
        length = np.linalg.norm(normals, axis=1, keepdims=True)
        normals = np.where(length > 1e-12, normals / np.maximum(length, 1e-12), (0, 1, 0))
        places = points.astype(np.float32)
        faces = piece.mesh.faces[:, ::-1] if flipped else piece.mesh.faces
        made.append(replace(piece.mesh, points=places, rest=places, normals=normals.astype(np.float32), faces=faces))
    return made


def _skin(data: Data, place: int, matrices: dict[int, Floats]) -> Floats:
    """(j, 4, 4) what each joint of a skin does to a point at rest."""
    skin = data.one("skins", place)
    joints = skin.get("joints", [])
    if not joints or any(joint not in matrices for joint in joints):
        raise Refusal(BROKEN)
    inverse = np.tile(np.eye(4), (len(joints), 1, 1))
    if "inverseBindMatrices" in skin:
        given = data.array(skin["inverseBindMatrices"]).astype(np.float64)
        if given.shape != (len(joints), 16):
            raise Refusal(BROKEN)
        inverse = given.reshape(-1, 4, 4).transpose(0, 2, 1)
    return np.stack([matrices[joint] for joint in joints]) @ inverse
