"""What a frame is sent as: a manifest that names blocks of bytes by their hashes."""

from __future__ import annotations

from typing import Literal, NotRequired

from typing_extensions import TypedDict

from windsock.core.document.shot import EnvironmentKind, ViewTransform

Numbers = list[float]


class ArrayRef(TypedDict):
    """One array of a mesh: the hash of its block, and how that is read."""

    hash: str
    type: Literal["float32", "int16", "uint16", "uint32", "uint8"]
    components: int
    count: int


class DrawnArrays(TypedDict):
    """The arrays of what is drawn. heat: a field's values. place, turn, size: of copies. picture: the bytes of a file, laid on
    by uv; pictured: how far it shows at each point, in full without."""

    points: ArrayRef
    normals: ArrayRef
    faces: ArrayRef
    tint: NotRequired[ArrayRef]
    emission: NotRequired[ArrayRef]
    surface: NotRequired[ArrayRef]
    heat: NotRequired[ArrayRef]
    place: NotRequired[ArrayRef]
    turn: NotRequired[ArrayRef]
    size: NotRequired[ArrayRef]
    picture: NotRequired[ArrayRef]
    uv: NotRequired[ArrayRef]
    pictured: NotRequired[ArrayRef]


class ResolvedLook(TypedDict):
    """A look as it is at the frame."""

    base_colour: str
    roughness: float
    metallic: float
    emission_colour: str
    emission: float
    transmission: float
    index: float
    attenuation_colour: str
    attenuation_distance: float
    thickness: float
    opacity: float
    backs: Literal["shown", "hidden"]


class DrawnCopies(TypedDict):
    """Copies of a model: how many, the cube and the size that their places and sizes are fractions of, and the model's
    radius."""

    count: int
    low: tuple[float, float, float]
    span: float
    largest: float
    radius: float


Wrap = Literal["repeat", "mirror", "clamp"]


class DrawnPicture(TypedDict):
    """The picture laid on by u,v: what is seen beyond its edge along u and v, and what its opacity does."""

    kind: str
    wrap: tuple[Wrap, Wrap]
    alpha: Literal["none", "cut", "blend"]


class DrawnItem(TypedDict):
    """A mesh that is drawn. cut: whether an opacity below 1/2 means that nothing is there. surfaced: which of roughness,
    metallic and transmission the points have their own of. thickness: how far light that goes through it goes inside, in the mean,
    in its own space. copies: where the mesh is a model of copies; then what points
    bring along is for each copy."""

    item: str
    part: str
    matrix: Numbers
    look: ResolvedLook
    backs: Literal["shown", "hidden"] | ResolvedLook
    tinted: bool
    fading: bool
    cut: bool
    surfaced: list[str]
    thickness: float
    arrays: DrawnArrays
    picture: DrawnPicture | None
    copies: DrawnCopies | None


class CoverageShares(TypedDict):
    """Shares of the subject by area."""

    inside: float
    band: float
    outside: float


class FieldReading(TypedDict):
    """A field as a step gets it. band: its mean width in values."""

    field: str
    coverage: CoverageShares
    histogram: Numbers
    band: float


class StepMade(TypedDict):
    """What a step made. made: in words, what is there beside faces; told: what follows from its settings."""

    item: str
    step: str
    faces_in: int
    faces_out: int
    milliseconds: float
    reused: bool
    reading: FieldReading | None
    made: str
    told: str


class ShapeMade(TypedDict):
    """What a shape is before its recipe. attributes: the numbers that its points carry."""

    item: str
    faces: int
    points: int
    median_edge: float
    milliseconds: float
    attributes: list[str]


class NodeCost(TypedDict):
    """What a node of the plan cost when it was made last, how often it was found ready since, and the bytes it holds. sort,
    item, step, field: which node it is. own: of its milliseconds, those that no other node was counted for; compiling: those
    that kernels were compiled in."""

    node: str
    sort: Literal[
        "shape", "step", "march", "solved", "field", "crossed", "front", "memory", "source march", "source history"
    ]
    item: str
    step: str
    field: str
    kind: Literal["immediate", "solved", "marched"]
    milliseconds: float
    own: float
    compiling: float
    made: int
    hits: int
    bytes: int


class BallOutline(TypedDict):
    """A ball about a controller."""

    form: Literal["ball"]
    radius: float


class PlaneOutline(TypedDict):
    """A plane across an axis of a controller."""

    form: Literal["plane"]
    axis: Literal["x", "y", "z"]
    distance: float


class BoxOutline(TypedDict):
    """A box about a controller: its half sizes, none for a slab, and the margin about it."""

    form: Literal["box"]
    half: list[float | None]
    margin: float


class Reach(TypedDict):
    """Where a source alone has its field's level, in the space of its controller."""

    field: str
    source: str
    controller: str
    outline: BallOutline | PlaneOutline | BoxOutline


class StepRegion(TypedDict):
    """What a step reaches: between two planes across an axis of an item, so many metres of the world along it."""

    item: str
    step: str
    space: str
    axis: Literal["x", "y", "z"]
    start: float
    end: float


class MarkNow(TypedDict):
    """Where a mark of a step of a shape is in the world, on one of the shapes."""

    item: str
    step: str
    mark: str
    on: str
    place: tuple[float, float, float]


class LightNow(TypedDict):
    """A light as it is at the frame. light: red, green and blue, linear, what falls on a face square to it, one metre away where it
    is near; wide, high: metres of an area."""

    item: str
    shines: Literal["parallel", "point", "area"]
    light: tuple[float, float, float]
    wide: float
    high: float


class CameraNow(TypedDict):
    """A camera as it is at the frame. angle: degrees from bottom to top; exposure: stops."""

    angle: float
    exposure: float


class EnvironmentNow(TypedDict):
    """The surroundings as they are at the frame."""

    kind: EnvironmentKind
    asset: str | None
    strength: float
    turn: float
    seen: bool
    behind: str


class FinishNow(TypedDict):
    """What the quick picture shows of the finishing at the frame. stops: that it is brighter; glow: how strong that is about what
    shines; view: how light becomes what is shown."""

    stops: float
    glow: float
    view: ViewTransform


class FrameManifest(TypedDict):
    """A frame. values: what each keyed value is, by JSON Pointer. courses: places along each path in the world, three numbers
    each. looked_at: the shapes whose steps have readings; None: all. sent: the hash and the length of each block that
    follows."""

    frame: float
    seconds: float
    items: list[DrawnItem]
    placements: dict[str, Numbers]
    values: dict[str, float | tuple[float, float, float]]
    courses: dict[str, Numbers]
    reaches: list[Reach]
    regions: list[StepRegion]
    marks: list[MarkNow]
    spaces: dict[str, Numbers]
    lights: list[LightNow]
    cameras: dict[str, CameraNow]
    environment: EnvironmentNow
    finish: FinishNow
    shapes: list[ShapeMade]
    steps: list[StepMade]
    looked_at: list[str] | None
    costs: list[NodeCost]
    sent: list[tuple[str, int]]
