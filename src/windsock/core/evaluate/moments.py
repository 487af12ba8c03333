"""The moments of a shot at which a history looks, and what is at rest then."""

from __future__ import annotations

from windsock.core.document.shot import Shot
from windsock.core.evaluate.reads import Reads
from windsock.core.evaluate.results import Latest
from windsock.core.evaluate.scene import SceneAt
from windsock.core.fields.elements import Elements, Subject, rest_elements


def span(shot: Shot) -> tuple[float, float]:
    """The seconds of the shot's first and last frame."""
    return shot.moment(shot.frames.first).seconds, shot.moment(shot.frames.last).seconds


def scene_at(scene: SceneAt, seconds: float, latest: Latest | None) -> SceneAt:
    """The scene at a second, as a part of one history."""
    return scene.beside(seconds * scene.shot.rate.fps, latest)


def subject_at(scene: SceneAt, item: str, reads: Reads) -> Subject:
    """A shape before its recipe."""
    made = scene.shapes.at_rest(scene, item)
    reads.leaves.update(made.reads.leaves)
    return made.value


def resting(scene: SceneAt, item: str, reads: Reads) -> Elements:
    """The points of a shape at rest, where it stands: those that it has at the shot's first frame. Where it has another
    number of points now, they are as they were then."""
    now, first = subject_at(scene, item, reads), subject_at(scene.first(), item, reads)
    same = len(now.mesh.points) == len(first.mesh.points)
    return rest_elements(now if same else first, scene.placement(item))
