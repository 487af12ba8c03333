"""What can be added to a shot, a recipe, a field and the finishing of the picture, in the order of the lists that it is chosen from."""

from __future__ import annotations

from typing import Literal, get_args

from pydantic import BaseModel, JsonValue

from windsock.core.changing.adding import NEW_ITEMS
from windsock.core.changing.looks import READY
from windsock.core.fields import AnySource
from windsock.core.fields.joining import JOINS
from windsock.core.finishing import AnyFinish
from windsock.core.shapes import AnyGeometry
from windsock.core.steps import AnyStep


class Offer(BaseModel):
    """Something that can be added: in words, what it is for, what one wishes for that chooses it, the change that does it, and the setting of the change that takes
    what is chosen, if it takes that."""

    words: str
    says: str = ""
    wish: str = ""
    change: dict[str, JsonValue]
    takes: Literal["", "item", "field", "along", "of"] = ""


class JoiningWord(BaseModel):
    """A word that joins a clause to those before it, what comes of the two, and what one wishes for that chooses it."""

    word: str
    says: str
    wish: str


class Offers(BaseModel):
    """What can be added to a shot, to a recipe, to a field and to the finishing of the picture, the looks that can be laid,
    and the words that join the clauses of a field."""

    items: list[Offer]
    steps: list[Offer]
    finishing: list[Offer]
    looks: list[Offer]
    clauses: list[Offer]
    joining: list[JoiningWord]


def offers() -> Offers:
    """All that is offered."""
    shapes = [kind for kind in get_args(AnyGeometry) if kind.example() is not None]
    return Offers(
        items=[
            *(
                Offer(words=kind.named(), wish="Shapes", change={"kind": "add_built", "what": kind.kind_name()})
                for kind in shapes
            ),
            Offer(words="Sweep along a path", wish="Shapes", change={"kind": "add_sweep"}, takes="along"),
            Offer(words="Path", wish="What steers and shows", change={"kind": "add_paths"}),
            *(
                Offer(words=what.capitalize(), wish="What steers and shows", change={"kind": "add_item", "what": what})
                for what in NEW_ITEMS
            ),
        ],
        steps=[
            Offer(
                words=kind.named(),
                says=kind.says,
                wish=kind.wish,
                change={"kind": "add_step", "step": kind.kind_name()},
                takes="item",
            )
            for kind in get_args(AnyStep)
        ],
        finishing=[
            Offer(
                words=kind.named(),
                says=kind.says,
                wish=kind.wish,
                change={"kind": "add_finish", "step": kind.kind_name()},
            )
            for kind in get_args(AnyFinish)
        ],
        looks=[
            Offer(words=ready.called, wish=ready.wish, change={"kind": "lay_look", "look": name}, takes="of")
            for name, ready in READY.items()
        ],
        clauses=[
            Offer(
                words=kind.offered_as(),
                says=kind.says,
                wish=kind.wish,
                change={"kind": "add_clause", "source": kind.kind_name()},
                takes="field",
            )
            for kind in get_args(AnySource)
        ],
        joining=[JoiningWord(word=word, says=says, wish=wish) for word, (wish, says) in JOINS.items()],
    )
