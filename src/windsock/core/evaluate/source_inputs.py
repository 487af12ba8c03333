"""What a source is given to solve something once for all moments, each answer noted as it is read."""

from __future__ import annotations

from typing import TYPE_CHECKING

from windsock.core.evaluate.definitions import TICKING
from windsock.core.evaluate.moments import span
from windsock.core.evaluate.movers import movers_of
from windsock.core.evaluate.reads import Question, Reads, behind
from windsock.core.evaluate.scene import SceneAt
from windsock.core.fields.elements import Subject
from windsock.core.geometry.movers import Mover
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.touches import Span

if TYPE_CHECKING:
    from windsock.core.evaluate.recipes import Recipes


class SourceToSolve:
    """See `fields.source.HistoryInputs`. reads: where it is noted what the source looks at; works: what it does, in words."""

    def __init__(self, recipes: Recipes, scene: SceneAt, item: str, works: str, reads: Reads) -> None:
        self._recipes, self._scene, self._item = recipes, scene, item
        self._works, self._reads = works, reads

    def subject(self) -> Subject:
        first = self._scene.first()
        made = first.shapes.at_rest(first, self._item)
        leaves = behind(made.reads.leaves, ("start",))
        self._reads.note_result(("start", "subject", self._item), made.key, leaves)
        return made.value

    def carried_at(self, seconds: float) -> Matrix:
        self._note("defined", "placement", self._item)
        shot = self._scene.shot
        return self._scene.plan.placement(self._item, shot.moment(seconds * shot.rate.fps))

    def movers(self, group: str) -> list[Mover]:
        return movers_of(self._recipes, self._scene, group, self._item, self._reads)

    def span(self) -> Span:
        self._note("defined", "timing")
        self._note("defined", *TICKING)
        return Span(*span(self._scene.shot), self._scene.definitions.ticks)

    def check(self, share: float) -> None:
        self._recipes.watch.check()
        self._recipes.watch.progress(self._works, share)

    def _note(self, *question: object) -> None:
        asked: Question = question
        self._reads.note(asked, self._scene.answer(asked))
