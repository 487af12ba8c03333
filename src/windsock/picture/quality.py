"""How well a picture is to be rendered, and what of it is wanted."""

from __future__ import annotations

from dataclasses import dataclass

SAMPLES_A_PASS = 4


@dataclass(frozen=True)
class Quality:
    """samples: of each pixel at most. noise: passes end where the picture's mean error is below this share of white; 0 takes
    all samples. denoised: whether what noise is left is taken out. passes: whether all passes are wanted, not only the picture.
    covers, depths: whether what covers each pixel, and how far off it is, is wanted for the finishing.
    """

    samples: int = 32
    noise: float = 0.01
    denoised: bool = True
    passes: bool = False
    covers: bool = False
    depths: bool = False

    @property
    def most_passes(self) -> int:
        return max(1, -(-self.samples // SAMPLES_A_PASS))


def shutter_share(number: int) -> float:
    """Where in the time that the shutter is open a pass is, 0..1: any number of passes from the first on is spread evenly
    (van der Corput 1935)."""
    share, place = 0.0, 0.5
    number += 1
    while number:
        share += place * (number & 1)
        number >>= 1
        place /= 2
    return share
