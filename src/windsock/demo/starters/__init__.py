"""Starters: ready recipes that can be laid on any shape, one file each."""

from __future__ import annotations

from windsock.core.document.shot import Shot
from windsock.demo.starters.burst_and_bounce import BURST_AND_BOUNCE
from windsock.demo.starters.eaten import EATEN
from windsock.demo.starters.flaking_dissolve import FLAKING_DISSOLVE
from windsock.demo.starters.glowing_shells import GLOWING_SHELLS
from windsock.demo.starters.growing_reveal import GROWING_REVEAL
from windsock.demo.starters.grown import GROWN
from windsock.demo.starters.hail import HAIL
from windsock.demo.starters.knot_reveal import KNOT_REVEAL
from windsock.demo.starters.laying import Bounds, Laying, Starter
from windsock.demo.starters.light_sweep import LIGHT_SWEEP
from windsock.demo.starters.near_glow import NEAR_GLOW
from windsock.demo.starters.needle_coat import NEEDLE_COAT
from windsock.demo.starters.pair_morph import PAIR_MORPH
from windsock.demo.starters.ribbon import RIBBON
from windsock.demo.starters.rings import RINGS
from windsock.demo.starters.rising_morph import RISING_MORPH
from windsock.demo.starters.shredder import SHREDDER
from windsock.demo.starters.soft_dissolve import SOFT_DISSOLVE
from windsock.demo.starters.springy import SPRINGY
from windsock.demo.starters.stone_swell import STONE_SWELL
from windsock.demo.starters.strands import STRANDS
from windsock.demo.starters.sweep import SWEEP
from windsock.demo.starters.tar_coat import TAR_COAT
from windsock.demo.starters.track import TRACK

STARTERS: dict[str, Starter] = {
    "soft-dissolve": SOFT_DISSOLVE,
    "sweep": SWEEP,
    "light-sweep": LIGHT_SWEEP,
    "flaking-dissolve": FLAKING_DISSOLVE,
    "growing-reveal": GROWING_REVEAL,
    "knot-reveal": KNOT_REVEAL,
    "eaten": EATEN,
    "grown": GROWN,
    "near-glow": NEAR_GLOW,
    "rings": RINGS,
    "glowing-shells": GLOWING_SHELLS,
    "track": TRACK,
    "hail": HAIL,
    "shredder": SHREDDER,
    "burst-and-bounce": BURST_AND_BOUNCE,
    "needle-coat": NEEDLE_COAT,
    "tar-coat": TAR_COAT,
    "springy": SPRINGY,
    "strands": STRANDS,
    "stone-swell": STONE_SWELL,
    "ribbon": RIBBON,
    "rising-morph": RISING_MORPH,
    "pair-morph": PAIR_MORPH,
}


def laid(starter: str, shot: Shot, item: str, bounds: Bounds) -> Laying:
    """The edit that lays a starter on a shape, in the shape's own size, with every default spelled out.

    Raises KeyError for an unknown starter.
    """
    laying = Laying(shot, item=item, bounds=bounds)
    STARTERS[starter].lay(laying)
    laying.complete()
    return laying
