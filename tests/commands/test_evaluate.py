"""`./windsock evaluate`: the core without web or database."""

from __future__ import annotations

import json
import subprocess
import sys

import pytest
from shots import cut_ball, evaluator, parsed

from windsock.commands.evaluate import evaluate
from windsock.commands.say import Trouble
from windsock.demo.the_sock_itself import the_sock_itself
from windsock.formats.importing import read_mesh
from windsock.writers.glb_out import write_glb


def run(tmp_path, document: object, *words: str) -> int:
    path = tmp_path / "shot.json"
    path.write_text(document if isinstance(document, str) else json.dumps(document))
    return evaluate([str(path), *words])


def test_a_frame_as_glb_and_as_ply(tmp_path, capsys):
    for name, start in (("x.glb", b"glTF"), ("x.ply", b"ply\n")):
        assert run(tmp_path, cut_ball(), "--frame", "40", "--out", str(tmp_path / name)) == 0
        assert (tmp_path / name).read_bytes().startswith(start)
    assert "5,120 to" in capsys.readouterr().out
    assert len(read_mesh((tmp_path / "x.glb").read_bytes(), "glb").faces) > 1000


def test_draft_and_final_have_the_same_front(tmp_path):
    written = []
    for detail in ("draft", "final"):
        run(tmp_path, cut_ball(), "--frame", "40", "--detail", detail, "--out", str(tmp_path / "x.glb"))
        written.append((tmp_path / "x.glb").read_bytes())
    assert written[0] == written[1]


def test_processes_of_their_own_find_the_same_past(tmp_path):
    document: dict = the_sock_itself()  # type: ignore[assignment]
    document["items"]["sock"]["geometry"] |= {"segments": 24, "ring_height": 0.2}
    path = tmp_path / "shot.json"
    path.write_text(json.dumps(document))
    written = []
    for number in range(2):
        out = tmp_path / f"{number}.glb"
        words = ["evaluate", str(path), "--frame", "77.5", "--out", str(out)]
        subprocess.run([sys.executable, "-m", "windsock.commands", *words], check=True, capture_output=True)
        written.append(out.read_bytes())
    assert written[0] == written[1]
    shot = parsed(document)
    assert write_glb(shot, evaluator().frame(shot, 77.5)) == written[0]


@pytest.mark.parametrize(
    ("document", "words", "complaint"),
    [
        ("{", ["--frame", "1", "--out", "x.glb"], "not JSON"),
        ({"name": ""}, ["--frame", "1", "--out", "x.glb"], "at least 1"),
        (cut_ball(), ["--frame", "nan", "--out", "x.glb"], "must lie between"),
        (cut_ball(), ["--frame", "1", "--out", "x.fbz"], "end in .glb, .obj or .ply"),
        (
            cut_ball({"kind": "imported", "asset": "0" * 64}),
            ["--frame", "1", "--out", "x.glb"],
            "Import the file again",
        ),
    ],
)
def test_what_cannot_be_done_is_said(tmp_path, monkeypatch, document, words, complaint):
    monkeypatch.chdir(tmp_path)
    with pytest.raises(Trouble, match=complaint):
        run(tmp_path, document, *words)
    assert not (tmp_path / "x.glb").exists()
