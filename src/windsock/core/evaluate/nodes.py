"""The nodes of a plan: their names, and what each is about."""

from __future__ import annotations

from typing import Literal

Sort = Literal[
    "shape", "step", "march", "solved", "field", "crossed", "front", "memory", "source march", "source history"
]


class Node(str):
    """The name of a node, with what it is about: an item, and a step of its recipe or a field on it."""

    sort: Sort
    item: str
    step: str
    field: str

    __slots__ = ("field", "item", "sort", "step")

    def __new__(cls, name: str, sort: Sort, item: str, step: str = "", field: str = "") -> Node:
        made = super().__new__(cls, name)
        made.sort, made.item, made.step, made.field = sort, item, step, field
        return made


def shape_node(item: str) -> Node:
    return Node(f"shape {item}", "shape", item)


def step_node(item: str, step: str) -> Node:
    return Node(f"step {item}/{step}", "step", item, step)


def march_node(item: str, step: str) -> Node:
    return Node(f"march {item}/{step}", "march", item, step)


def solved_node(item: str, step: str) -> Node:
    return Node(f"solved {item}/{step}", "solved", item, step)


def field_node(field: str, item: str) -> Node:
    return Node(f"field {field} {item}", "field", item, field=field)


def crossed_node(field: str, item: str) -> Node:
    return Node(f"crossed {field} {item}", "crossed", item, field=field)


def front_node(seeds: str, item: str) -> Node:
    return Node(f"front {seeds} {item}", "front", item, field=seeds)


def source_march_node(field: str, source: str, item: str) -> Node:
    return Node(f"march {field}/{source} {item}", "source march", item, field=field)


def source_history_node(field: str, source: str, item: str) -> Node:
    return Node(f"history {field}/{source} {item}", "source history", item, field=field)


def memory_node(field: str, item: str) -> Node:
    return Node(f"memory {field} {item}", "memory", item, field=field)
