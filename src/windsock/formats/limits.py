"""What every reader allows."""

from windsock.core.evaluate.bounds import FACE_LIMIT

FILE_LIMIT = 64 * 1024 * 1024
"""Bytes of an imported file."""

POINT_LIMIT = 3 * FACE_LIMIT
