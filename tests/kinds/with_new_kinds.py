"""Run by itself: the union of each family gets one more kind, as its own file would be written; then everything is asked for.

Nothing but the unions is touched. It prints what was found, as JSON.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated

from pydantic import Field, TypeAdapter

from windsock.core import fields, shapes, steps


def united(kinds: object) -> object:
    return Annotated[kinds, Field(discriminator="kind")]


def main() -> None:
    """Add the kinds before anything else is imported, and use them."""
    from puff import Puff
    from stripes import Stripes
    from tent import Tent

    steps.AnyStep = steps.AnyStep | Puff
    steps.Step = united(steps.AnyStep)
    fields.AnySource = fields.AnySource | Stripes
    fields.Source = united(fields.AnySource)
    shapes.AnyGeometry = shapes.AnyGeometry | Tent
    shapes.Geometry = united(shapes.AnyGeometry)

    import nameless
    import xyz

    from windsock import writers
    from windsock.core import findings
    from windsock.formats import importing

    findings.FINDERS = (*findings.FINDERS, nameless.find)
    writers.WRITERS = (*writers.WRITERS, xyz.XyzWriter())
    importing.READERS = (*importing.READERS, xyz.READER)
    print(json.dumps(found()))


def found() -> dict:
    """What the application says and does about the new kinds."""
    from shots import evaluator

    from windsock.core.changing import Bounds, Change, planned
    from windsock.core.changing.offers import offers
    from windsock.core.document.patches import patched
    from windsock.core.document.relations import relations
    from windsock.core.document.schema import shot_schema
    from windsock.core.document.shot import parse_shot
    from windsock.core.evaluate.bounds import estimate
    from windsock.core.findings import find_all
    from windsock.core.refusals import Refusal
    from windsock.evaluator.answers import formats
    from windsock.formats.importing import read_mesh
    from windsock.web.app import create_app
    from windsock.writers import frame_writer_of
    from windsock.writers.writer import Shown

    changes, bounds = TypeAdapter(Change), Bounds((0, 0, 0), (2, 1, 2))
    document: dict = parse_shot({"name": "Any"}).model_dump(mode="json")

    def change(**wanted: object) -> str:
        nonlocal document
        edit = planned(changes.validate_python(wanted), parse_shot(document), bounds)
        document = patched(document, edit.patch)
        return edit.item_id or edit.field_id

    tent = change(kind="add_built", what="tent")
    change(kind="add_step", item=tent, step="puff")
    field = change(kind="drive_by_new_field", item=tent, step="puff")
    change(kind="add_clause", field=field, source="stripes")
    change(kind="set_value", at=f"/items/{tent}/recipe/steps/puff/height", value=0.5)
    shot = parse_shot(document)
    one = evaluator()
    frame = one.frame(shot, 0)
    document["items"][tent]["name"] = "Thing"
    amiss = find_all(evaluator(), parse_shot(document))
    written = frame_writer_of("xyz").written(Shown(one, shot, frame), "kept")
    wrong = dict(document["fields"][field]["sources"]["stripes"], width=-1)
    try:
        parse_shot(document | {"fields": {field: document["fields"][field] | {"sources": {"stripes": wrong}}}})
        refused = ""
    except Refusal as fault:
        refused = str(fault)
    app = create_app("postgresql+psycopg://nobody@127.0.0.1:1/none", [Path("/nowhere")], *[Path("/nowhere")] * 2)
    with app.app_context():
        schemas = app.spec["components"]["schemas"]
    told = {name: shot_schema()["$defs"].get(name, {}) for name in ("Puff", "Stripes", "Tent")}
    return {
        "help": {name: model.get("description") for name, model in told.items()},
        "words": {name: model.get("x-kind") for name, model in told.items()},
        "client": sorted(set(schemas) & {"Puff", "Stripes", "Tent"}),
        "offered": [offer.words for offer in (*offers().items, *offers().steps, *offers().clauses)],
        "served": [one["words"] for one in app.test_client().get("/api/offers").json["steps"]],
        "faces": estimate(shot, None).faces,
        "clauses": relations(shot).fields[field].clauses,
        "points": frame.draw[0].body.mesh.points.round(4).tolist(),
        "findings": [finding.kind for finding in amiss if finding.item == tent],
        "formats": [[one.name for one in formats().write], [one.ending for one in formats().read]],
        "read_again": len(read_mesh(written, "xyz").faces),
        "refused": refused,
    }


if __name__ == "__main__":
    main()
