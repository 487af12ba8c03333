"""Answers for all demo shots and starters as the page asks, and prints the kernels that were compiled for it.

In a process of its own: what another test has compiled does not count.
"""

from __future__ import annotations

import sys
from pathlib import Path

from windsock.core.document.patches import patched
from windsock.core.document.shot import parse_shot
from windsock.core.kernels.compiled import compiled_here
from windsock.demo.blank import blank_shot
from windsock.demo.compiling import BALL
from windsock.demo.loading import SHOTS
from windsock.demo.starters import STARTERS, laid
from windsock.evaluator.desk import Desk
from windsock.evaluator.warming import warm_up
from windsock.protocol.requests import CoverageRequest, FrameRequest


def main() -> None:
    warm_up()
    shots = {name: make() for name, make in SHOTS.items()}
    for starter in STARTERS:
        shot = parse_shot(blank_shot("Started"))
        shots[starter] = patched(shot.model_dump(mode="json"), laid(starter, shot, "ball", BALL).patch)
    # The second time what took history to find comes from the disk: one frame tells.
    for again in (False, True):
        desk = Desk(Path(sys.argv[1]) / "assets", Path(sys.argv[1]) / "history")
        for name, document in shots.items():
            shot = parse_shot(document)
            frames, first = shot.frames, next(iter(shot.fields))
            asked_for = ((shot.opening_frame + 0.5, True), (frames.first, False), (frames.last, False))
            for frame, dragged in asked_for[-1:] if again else asked_for:
                asked = FrameRequest(base=name, document=document, frame=frame, dragged=dragged)
                reply, _ = desk.answer(asked)
                assert not reply.refused, (name, reply.refused)
            if again:
                continue
            subject = next(key for key, item in shot.items.items() if item.kind == "shape" and item.recipe.steps)
            desk.answer(
                CoverageRequest(base=name, document=document, field=first, item=subject, step_by=frames.last // 4)
            )
    print("\n".join(compiled_here()))


if __name__ == "__main__":
    main()
