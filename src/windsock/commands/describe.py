"""`./windsock describe`: writes the published schema and API description, and what the page has from them."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path

from windsock.commands.machine import FRONTEND, ROOT, ensure_packages, ensure_picture_packages
from windsock.commands.say import say
from windsock.core.changing.offers import offers
from windsock.core.document.schema import shot_schema
from windsock.picture.view import ACADEMY, table
from windsock.web.app import create_app


def describe(words: list[str]) -> int:
    """Write docs/shot.schema.json, docs/openapi.json, docs/offers.json, frontend/src/api/schema.d.ts and the tables of the views anew."""
    del words
    ensure_packages()
    nowhere = Path("/nowhere")
    app = create_app("postgresql+psycopg://nobody@127.0.0.1:1/none", [nowhere], nowhere, nowhere)
    with app.app_context():
        spec = app.spec
    described = {
        "shot.schema.json": shot_schema(),
        "openapi.json": spec,
        "offers.json": offers().model_dump(mode="json"),
    }
    for name, content in described.items():
        (ROOT / "docs" / name).write_text(json.dumps(content, indent=1, sort_keys=True) + "\n")
    ensure_picture_packages()
    for view in ACADEMY:
        (FRONTEND / "src" / "view" / "tables" / f"{view}.bin").write_bytes(table(view))
    subprocess.run(["npm", "run", "--silent", "client"], cwd=FRONTEND, check=True, stdout=subprocess.DEVNULL)
    say(
        "Wrote docs/shot.schema.json, docs/openapi.json, docs/offers.json, frontend/src/api/schema.d.ts and the tables of the views."
    )
    return 0
