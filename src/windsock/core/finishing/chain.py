"""The chain of finishing steps: those on linear light in their order, and after the view transform the others in theirs."""

from __future__ import annotations

from collections.abc import Mapping

from windsock.core.declarations import in_order
from windsock.core.finishing import AnyFinish
from windsock.core.finishing.finish import Floats, Seen
from windsock.core.timing.parameter import Moment

Chain = Mapping[str, AnyFinish]


def on_light(chain: Chain, light: Floats, seen: Seen) -> Floats:
    """(height, width, 3) linear light after the steps that work on it."""
    return _through(chain, light, seen, after_view=False)


def on_shown(chain: Chain, shown: Floats, seen: Seen) -> Floats:
    """(height, width, 3) what a display shows, 0..1, after the steps that work on that."""
    return _through(chain, shown, seen, after_view=True)


def needs_covers(chain: Chain) -> bool:
    """Whether a step has to know which items are where."""
    return any(step.on and step.item is not None for step in chain.values())


def needs_depth(chain: Chain) -> bool:
    """Whether a step has to know how far off things are."""
    return any(step.on and step.needs_depth() for step in chain.values())


def fields_of(chain: Chain) -> set[str]:
    """The fields by whose values steps count."""
    return {step.field for step in chain.values() if step.on and step.field is not None}


def quick(chain: Chain, at: Moment) -> tuple[float, float]:
    """What a quick picture shows of the finishing: stops that it is brighter, and how strong the glow about what shines is."""
    plain = [step for step in chain.values() if step.on and step.is_everywhere]
    return sum(step.quick_stops(at) for step in plain), sum(step.quick_glow(at) for step in plain)


def _through(chain: Chain, picture: Floats, seen: Seen, after_view: bool) -> Floats:
    for _, step in in_order(chain):
        if step.after_view == after_view:
            picture = step.finished(picture, seen)
    return picture
