"""Loads the demo project into a new database, once."""

from __future__ import annotations

from pathlib import Path

from windsock.core.document.shot import parse_shot
from windsock.demo.beacon_sweep import beacon_sweep
from windsock.demo.fog_over_the_light import fog_over_the_light
from windsock.demo.hail_on_the_quay import hail_on_the_quay
from windsock.demo.hoarfrost import hoarfrost
from windsock.demo.ice_floe import ice_floe
from windsock.demo.lamp_to_bell import lamp_to_bell
from windsock.demo.mooring_posts import mooring_posts
from windsock.demo.net_mender import net_mender
from windsock.demo.sandbar import sandbar
from windsock.demo.sign_off import sign_off
from windsock.demo.spray import spray
from windsock.demo.storm_warning import storm_warning
from windsock.demo.tarred_hull import tarred_hull
from windsock.demo.the_sock_itself import the_sock_itself
from windsock.demo.years_under_water import years_under_water
from windsock.store.database import Database
from windsock.store.models import Mark, Project, ShotRow, SmallPicture
from windsock.store.shots import new_row

PICTURES = Path(__file__).with_name("pictures")
"""The small pictures of the shots, as the page draws them."""

PROJECT = "kestrel-point-idents"
SHOTS = {
    "fog-over-the-light": fog_over_the_light,
    "sign-off": sign_off,
    "hoarfrost": hoarfrost,
    "years-under-water": years_under_water,
    "mooring-posts": mooring_posts,
    "sandbar": sandbar,
    "the-sock-itself": the_sock_itself,
    "lamp-to-bell": lamp_to_bell,
    "net-mender": net_mender,
    "ice-floe": ice_floe,
    "tarred-hull": tarred_hull,
    "beacon-sweep": beacon_sweep,
    "hail-on-the-quay": hail_on_the_quay,
    "spray": spray,
    "storm-warning": storm_warning,
}


def load_demo(address: str) -> None:
    """Make the demo project, and add shots that are new. What was loaded before, and perhaps deleted, stays as it is."""
    database = Database(address)
    with database.session() as session:
        if session.get(Mark, "demo") is None:
            session.add(Mark(name="demo"))
            session.add(Project(id=PROJECT, name="Kestrel Point idents"))
            session.flush()
        if session.get(Project, PROJECT) is not None:
            for name, make in SHOTS.items():
                if session.get(Mark, f"demo {name}") is None and session.get(ShotRow, name) is None:
                    session.add(new_row(name, PROJECT, parse_shot(make())))
                    picture = PICTURES / f"{name}.webp"
                    if picture.exists():
                        session.flush()
                        content = picture.read_bytes()
                        session.add(SmallPicture(shot_id=name, revision=0, kind="image/webp", content=content))
                session.merge(Mark(name=f"demo {name}"))
    database.engine.dispose()
