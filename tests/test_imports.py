"""Imports point one way."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path
from typing import get_args

from windsock.core.fields import AnySource
from windsock.core.finishing import AnyFinish
from windsock.core.ramp import Ramp
from windsock.core.shapes import AnyGeometry
from windsock.core.steps import AnyStep
from windsock.writers import WRITERS

SOURCE = Path(__file__).parents[1] / "src" / "windsock"

# A room may import its own and the rooms to the right of it.
ROOMS = [
    "commands",
    "web",
    "jobs",
    "demo",
    "store",
    "evaluator",
    "writers",
    "picture",
    "formats",
    "protocol",
    "processes",
    "core",
]
INSIDE = [
    "findings",
    "evaluate",
    "changing",
    "document",
    "steps",
    "finishing",
    "parts",
    "fields",
    "shapes",
    "look",
    "ramp",
    "geometry",
    "timing",
    "declarations",
    "kernels",
    "refusals",
]
# The demo makes documents for the store; the web shows a new shot from it.
OUTSIDE_THE_CORE = {
    "flask",
    "apiflask",
    "sqlalchemy",
    "alembic",
    "psycopg",
    "waitress",
    "socket",
    "subprocess",
    "multiprocessing",
    "pathlib",
    "procrastinate",
    "os",
    "trimesh",
    "pygltflib",
    "urllib",
}


def modules() -> Iterator[tuple[Path, list[str]]]:
    for path in SOURCE.rglob("*.py"):
        names: list[str] = []
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Import):
                names += [alias.name for alias in node.names]
            elif isinstance(node, ast.ImportFrom) and node.module:
                names.append(node.module)
        yield path, names


def room(parts: tuple[str, ...] | list[str]) -> str:
    return parts[0].removesuffix(".py")


def test_rooms_import_only_what_lies_below_them():
    wrong = []
    for path, names in modules():
        here = room(path.relative_to(SOURCE).parts)
        for name in names:
            parts = name.split(".")
            if (
                parts[0] == "windsock"
                and len(parts) > 1
                and here in ROOMS
                and ROOMS.index(room(parts[1:])) < ROOMS.index(here)
            ):
                wrong.append(f"{path.relative_to(SOURCE)} imports {name}")
    assert wrong == []


def test_the_web_runs_neither_the_evaluator_nor_the_worker_nor_writers():
    behind = ("windsock.evaluator", "windsock.writers", "windsock.jobs.worker", "windsock.formats.importing")
    wrong = []
    for path, names in modules():
        if path.relative_to(SOURCE).parts[0] == "web":
            wrong += [f"{path.name} imports {name}" for name in names if name.startswith(behind)]
    assert wrong == []


def test_inside_the_core_imports_point_down_too():
    wrong = []
    for path, names in modules():
        parts = path.relative_to(SOURCE).parts
        if parts[0] != "core" or len(parts) < 2 or parts[1] == "__init__.py":
            continue
        here = room(parts[1:])
        for name in names:
            told = name.split(".")
            if told[:2] == ["windsock", "core"] and len(told) > 2 and INSIDE.index(room(told[2:])) < INSIDE.index(here):
                wrong.append(f"{'/'.join(parts)} imports {name}")
    assert wrong == []


def test_the_core_knows_no_web_database_file_or_network():
    wrong = []
    for path, names in modules():
        if path.relative_to(SOURCE).parts[0] == "core":
            wrong += [f"{path.name} imports {name}" for name in names if name.split(".")[0] in OUTSIDE_THE_CORE]
    assert wrong == []


def test_only_its_own_file_and_the_union_name_a_kind_of_step_source_or_shape():
    unions = (AnyStep, AnySource, AnyGeometry, AnyFinish)
    kinds = {kind.__module__ for union in unions for kind in get_args(union)}
    rooms = [
        "core/evaluate",
        "core/findings",
        "core/changing",
        "core/document",
        "evaluator",
        "formats",
        "jobs",
        "web",
        "store",
    ]
    for path, names in modules():
        inside = path.relative_to(SOURCE).as_posix()
        if inside.startswith(tuple(f"{room}/" for room in rooms)):
            assert not kinds & set(names), inside


PAGE = SOURCE.parents[1] / "frontend" / "src"
SENTENCES = (
    "recipe/steps/",
    "finishing/",
    "recipe/sources/",
    "recipe/shapes/",
    "recipe/sentences.tsx",
    "api/schema.d.ts",
)


def test_the_page_names_a_kind_only_in_its_sentence():
    kinds = {kind.kind_name() for union in (AnyStep, AnySource, AnyGeometry, AnyFinish) for kind in get_args(union)}
    kinds -= set(get_args(Ramp.model_fields["kind"].annotation))  # a ramp may be smooth, as a step is
    formats = {writer.name for writer in WRITERS}
    naming = re.compile(
        r"""(?:kind|sort|format|name)['"]?\s*(?:[=!]==?|:)\s*['"]([a-z_-]+)['"]|case ['"]([a-z_-]+)['"]"""
    )
    wrong = []
    for path in PAGE.rglob("*.ts*"):
        inside = path.relative_to(PAGE).as_posix()
        if inside.startswith(SENTENCES):
            continue
        named = {one or other for one, other in naming.findall(path.read_text())}
        wrong += [f"{inside} names {kind}" for kind in sorted(named & (kinds | formats))]
    assert wrong == []
