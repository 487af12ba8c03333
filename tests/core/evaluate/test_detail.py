"""Draft and final: the same but for fewer copies and fewer ticks."""

from __future__ import annotations

import numpy as np
from shots import evaluator, parse_shot, recipe_shot, sock_alone

from windsock.core.evaluate import detail

LAID = {"kind": "scatter", "count": 30_000, "what": "flakes"}


def drawn(which: str, frame: float = 0.0, **scatter) -> dict:
    shot = parse_shot(recipe_shot(LAID | scatter, {"kind": "fracture", "count": 9}, parts=("copies",)))
    return {item.part: item.body for item in evaluator().frame(shot, frame, which).draw}  # type: ignore[arg-type]


def test_a_draft_has_a_stable_share_of_the_copies_where_they_are(monkeypatch):
    monkeypatch.setattr(detail, "DRAFT_COPIES", 10_000)
    final, draft = drawn("final")["copies"], drawn("draft")["copies"]
    assert len(final.copies) == 30_000
    # So many by chance, within four standard deviations of a binomial count.
    assert abs(len(draft.copies) - 10_000) < 4 * (10_000 * 2 / 3) ** 0.5
    where = {int(number): place for number, place in zip(final.mesh.number, final.mesh.points, strict=True)}
    np.testing.assert_array_equal([where[int(number)] for number in draft.mesh.number], draft.mesh.points)
    more = drawn("draft", count=20_000)["copies"]
    there = np.isin(draft.mesh.number, np.arange(20_000))
    assert set(draft.mesh.number[there]) <= set(more.mesh.number)


def test_nothing_else_of_a_draft_is_another():
    final, draft = drawn("final", count=500), drawn("draft", count=500)
    assert list(final) == list(draft)
    for part, body in final.items():
        np.testing.assert_array_equal(body.mesh.points, draft[part].mesh.points)
        np.testing.assert_array_equal(body.mesh.faces, draft[part].mesh.faces)


def test_what_swings_is_while_a_value_is_dragged_about_where_it_is_and_then_just_there():
    """Common practice: what is dragged may be seen to differ by no more than a hundredth of the shape's size."""
    shot = parse_shot(sock_alone())
    warm = evaluator()
    draft, final, fresh = warm.frame(shot, 58, "dragged"), warm.frame(shot, 58), evaluator().frame(shot, 58)
    off = 0.0
    for before, after, alone in zip(draft.draw, final.draw, fresh.draw, strict=True):
        np.testing.assert_array_equal(after.points, alone.points)
        size = float(np.ptp(after.points, axis=0).max())
        off = max(off, float(np.abs(before.points - after.points).max()) / size)
    assert 0 < off < 0.01
