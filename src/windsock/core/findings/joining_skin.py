"""A skin of which parts join or come apart over the shot, or in which holes open or close."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from windsock.core.findings.finding import Finding, number
from windsock.core.findings.survey import Survey


def find(survey: Survey) -> Iterator[Finding]:
    """Steps whose skin has other numbers of parts or holes at other moments. Where it is not there at all does not count."""
    for one in survey.listeners:
        if not one.step.lays_skin:
            continue
        there = [skin for skin in survey.skins(one) if skin[1]]
        changes = [(before, after) for before, after in pairwise(there) if before[1:] != after[1:]]
        if not changes:
            continue
        before, after = changes[0]
        says = (
            f"{one.says}: its skin is {_counted(before)} at frame {number(before[0])} and {_counted(after)} at frame "
            f"{number(after[0])}, so that something joins or comes apart between them, within a frame. If that is not meant, let "
            "what it lies over stay nearer together or further apart, or take another radius or blend."
        )
        yield Finding("joining_skin", says, one.pointer, one.item)


def _counted(skin: tuple[float, int, int]) -> str:
    _, parts, holes = skin
    with_holes = "no hole" if holes == 0 else "1 hole" if holes == 1 else f"{holes} holes"
    return f"{'1 part' if parts == 1 else f'{parts} parts'} with {with_holes}"
