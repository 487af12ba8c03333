"""Imported files by content hash, as the web process lays them out, and what they hold, read once and kept."""

from __future__ import annotations

import secrets
from pathlib import Path

from windsock.core.evaluate.cache import Cache
from windsock.core.geometry.clip import Clip
from windsock.core.geometry.drawing import Drawing
from windsock.core.geometry.lettering import Lettering
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.movement import Movements
from windsock.core.geometry.panorama import Panorama
from windsock.core.refusals import MissingAsset, Refusal
from windsock.formats.font import SHIPPED, Font, shipped_font
from windsock.formats.movement import restored_movements
from windsock.formats.parsed import restored
from windsock.formats.reader import Held
from windsock.formats.reading import read_apart
from windsock.protocol.files import LaidOutFiles

READ = "read4"
"""The ending of a file that says what another one holds; it changes when readers do."""


class AssetFolder(LaidOutFiles):
    """A folder of imported files. See `core.shapes.Assets`."""

    def __init__(self, folder: Path, cache: Cache) -> None:
        super().__init__(folder)
        self._cache = cache

    def held(self, asset: str) -> Held:
        """What an imported file holds. Raises MissingAsset, and Refusal where it cannot be read."""
        found, _ = self._cache.get_or_make(f"asset {asset}", lambda: self._read(asset))
        return found

    def is_read(self, asset: str) -> bool:
        """Whether what an imported file holds is at hand, so that nobody need wait for it to be read."""
        return self._cache.get(f"asset {asset}") is not None or (self.folder / f"{asset}.{READ}").exists()

    def mesh(self, asset: str) -> Mesh:
        """See `Assets`."""
        held = self.held(asset)
        if isinstance(held, Clip):
            return held.mesh
        if not isinstance(held, Mesh):
            raise Refusal("The file of this shape has no faces. The shot is unharmed. Choose another file.")
        return held

    def clip(self, asset: str) -> Clip | None:
        """See `Assets`."""
        held = self.held(asset)
        return held if isinstance(held, Clip) else None

    def drawing(self, asset: str) -> Drawing:
        """See `Assets`."""
        held = self.held(asset)
        if not isinstance(held, Drawing):
            raise Refusal("The file of this shape is not a drawing. The shot is unharmed. Choose an SVG file.")
        return held

    def lettering(self, font: str) -> Lettering:
        """See `Assets`."""
        if font in SHIPPED:
            found, _ = self._cache.get_or_make(f"font {font}", lambda: shipped_font(font))
            return found
        held = self.held(font) if len(font) == 64 else shipped_font(font)
        if not isinstance(held, Font):
            raise Refusal("The file of this text is not a font. The shot is unharmed. Choose another font.")
        return held

    def panorama(self, asset: str) -> Panorama:
        """See `Assets`."""
        held = self.held(asset)
        if not isinstance(held, Panorama):
            raise Refusal(
                "The file of the surroundings is not a picture of all round. The shot is unharmed. Choose another file."
            )
        return held

    def movements(self, asset: str, digest: str) -> Movements:
        """What moves in a file that was laid out for that alone. digest: of its kind and content."""
        found, _ = self._cache.get_or_make(f"movement {digest}", lambda: self._read_movements(asset))
        return found

    def _read_movements(self, asset: str) -> Movements:
        source = next(iter(self.folder.glob(f"{asset}.*")), None)
        if source is None:
            raise MissingAsset(asset)
        beside = self.folder / f".{asset}.{secrets.token_hex(4)}.part"
        try:
            read_apart(source, source.suffix[1:], beside, "movement")
            return Movements(tuple(restored_movements(beside)))
        finally:
            beside.unlink(missing_ok=True)

    def _read(self, asset: str) -> Held:
        result = self.folder / f"{asset}.{READ}"
        if not result.exists():
            sources = [path for path in self.folder.glob(f"{asset}.*") if not path.suffix.startswith(".read")]
            if not sources:
                raise MissingAsset(asset)
            beside = self.folder / f".{asset}.{secrets.token_hex(4)}.part"
            try:
                read_apart(sources[0], sources[0].suffix[1:], beside)
                beside.rename(result)
            finally:
                beside.unlink(missing_ok=True)
        try:
            return restored(result)
        except (OSError, ValueError, KeyError):
            result.unlink(missing_ok=True)
            raise MissingAsset(asset) from None
