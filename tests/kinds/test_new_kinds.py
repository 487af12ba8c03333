"""A new kind is one file and its name in one union: the schema, the help, what is offered, the estimates, the checks, the
frames, the findings and the exports follow."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

HERE = Path(__file__).parent


@pytest.fixture(scope="module")
def found() -> dict:
    paths = [str(HERE), str(HERE.parent), str(HERE.parents[1] / "src")]
    environment = os.environ | {"PYTHONPATH": os.pathsep.join(paths)}
    command = [sys.executable, str(HERE / "with_new_kinds.py")]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    return json.loads(done.stdout.splitlines()[-1])


def test_kinds_are_in_the_schema_with_their_help_and_words(found):
    assert found["help"] == {
        "Puff": "Move points along their normals.",
        "Stripes": "1 and 0 in turns along the world's X axis.",
        "Tent": "A roof along Z.",
    }
    assert found["words"]["Puff"]["called"] == "Puff"
    assert found["words"]["Puff"]["undriven"].startswith("No field drives this, so the whole shape swells.")
    assert found["client"] == ["Puff", "Stripes", "Tent"]


def test_kinds_are_offered(found):
    assert {"Tent", "Puff", "Stripes"} <= set(found["offered"])
    assert "Puff" in found["served"]


def test_kinds_are_checked_and_estimated(found):
    assert "Width of a stripe: -1 lies outside 0.001 to 100 m" in found["refused"]
    assert found["faces"] == 4


def test_kinds_make_the_picture(found):
    """Points in a stripe go half a metre along their normals, those between two stripes stay."""
    assert found["clauses"] == ["stripes"]
    share = 0.5 / 2**0.5
    inside = [
        [-1 - share, share, -1],
        [-1 - share, share, 1],
        [0, 1, -1],
        [0, 1, 1],
        [1 + share, share, -1],
        [1 + share, share, 1],
    ]
    assert found["points"] == [pytest.approx(point, abs=1e-3) for point in inside]


def test_what_is_amiss_is_found(found):
    assert "nameless" in found["findings"]


def test_files_are_written_and_read(found):
    written, read = found["formats"]
    assert written[-1] == read[-1] == "xyz"
    assert found["read_again"] == 4
