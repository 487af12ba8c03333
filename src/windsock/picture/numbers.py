"""Numbers of frames written into pictures."""

from __future__ import annotations

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from windsock.picture.scene import Floats

SHARE = 0.045
"""How high letters are, as a share of the picture's height."""

LEAST = 9
"""Pixels that they are at least high."""


def numbered(shown: Floats, words: str) -> Floats:
    """(height, width, k) a picture as a display shows it, with words at its lower left, white with a dark edge."""
    height, width = shown.shape[:2]
    size = max(SHARE * height, LEAST)
    font = ImageFont.load_default(size)
    edge = max(1, round(size / 9))
    made = shown.copy()
    for value, stroke in ((0.0, edge), (1.0, 0)):
        drawn = Image.new("L", (width, height))
        place = (size * 0.7, height - size * 0.6)
        ImageDraw.Draw(drawn).text(place, words, fill=255, font=font, anchor="ls", stroke_width=stroke, stroke_fill=255)
        laid = np.asarray(drawn, dtype=np.float32)[..., None] / 255
        goal = np.array([value] * 3 + [1.0], dtype=np.float32)[: made.shape[2]]
        made += laid * (goal - made)
    return made
