"""A glTF file in a zip with the buffers and pictures that it names."""

from __future__ import annotations

import posixpath
import zipfile
from urllib.parse import unquote

from windsock.core.geometry.clip import Clip
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal
from windsock.formats.glb_in import read_data
from windsock.formats.gltf_data import Data
from windsock.formats.gltf_open import BUFFER_LIMIT, opened_gltf
from windsock.formats.zips import opened, unpacked


def scenes(bundle: zipfile.ZipFile) -> list[zipfile.ZipInfo]:
    """The glTF files of a zip."""
    return [
        entry
        for entry in bundle.infolist()
        if entry.filename.lower().endswith(".gltf") and "__MACOSX" not in entry.filename
    ]


def read_gltf_zip(content: bytes) -> Mesh | Clip:
    """The shape of the one glTF file of a zip. Raises Refusal."""
    return read_data(opened_zip(content))


def opened_zip(content: bytes) -> Data:
    """The one glTF file of a zip, opened. Raises Refusal."""
    bundle = opened(content)
    found = scenes(bundle)
    if len(found) != 1:
        raise Refusal(f"The zip holds {len(found)} glTF files. Nothing was imported. Pack one with what it names.")
    named = {posixpath.normpath(entry.filename): entry for entry in bundle.infolist()}
    folder = posixpath.dirname(found[0].filename)
    left = BUFFER_LIMIT

    def beside(uri: str) -> bytes:
        nonlocal left
        entry = named.get(posixpath.normpath(posixpath.join(folder, unquote(uri))))
        if entry is None:
            raise Refusal(
                f"The file refers to “{uri[:60]}”, which is not in the zip. Nothing was imported. Pack it with the others."
            )
        held = unpacked(bundle, entry, left)
        left -= len(held)
        return held

    return opened_gltf(unpacked(bundle, found[0]), beside)
