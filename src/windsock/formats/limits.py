"""What every reader allows."""

from windsock.core.geometry.mesh import FACE_LIMIT

FILE_LIMIT = 64 * 1024 * 1024
"""Bytes of an imported file."""

POINT_LIMIT = 3 * FACE_LIMIT

POSE_LIMIT = 40_000_000
"""Points of a moving file, over all its moments."""

MOMENT_LIMIT = 2_000
"""Moments of a moving file."""

READING_SECONDS = 90.0
"""How long a file may take to read, of the clock and of a processor."""

READING_MEMORY = 6 * 2**30
"""Bytes of address space for reading a file."""
