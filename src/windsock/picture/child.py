"""The rendering process: takes scenes over a pipe, answers with how far it is, and at last with the layers.

`python -m windsock.picture.child READ WRITE MEGABYTES`: two file descriptors and the memory that it may take.
"""

from __future__ import annotations

import os
import resource
import sys
import traceback
from multiprocessing.connection import Connection

from windsock.picture.quality import Quality
from windsock.picture.scene import Scene


def main() -> None:
    """Serve until the other end is closed."""
    reading, writing, megabytes = (int(word) for word in sys.argv[1:4])
    most = megabytes << 20
    _, allowed = resource.getrlimit(resource.RLIMIT_AS)
    if allowed != resource.RLIM_INFINITY:
        most = min(most, allowed)  # who started it may have less
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    os.nice(5)
    wishes = Connection(reading, writable=False)
    answers = Connection(writing, readable=False)
    from windsock.picture.meshes import BuiltMeshes  # loads the renderer
    from windsock.picture.rendering import Rendering, Unwanted

    def unwanted() -> bool:
        """Whether what is under way is to stop: nothing else is asked meanwhile."""
        if not wishes.poll():
            return False
        wishes.recv()
        return True

    answers.send(("ready",))
    built = BuiltMeshes()
    rendering = Rendering(Quality(), built)
    while True:
        try:
            wish, *given = wishes.recv()
        except EOFError:
            return
        try:
            if wish == "begin":
                rendering = Rendering(given[0], built)
                answers.send(("begun",))
            elif wish == "add":
                scene: Scene | None = given[0]
                if scene is not None:
                    rendering.set(scene)
                answers.send(("added", rendering.add(given[1], unwanted)))
            elif wish == "stop":
                answers.send(("stopped",))
            else:
                answers.send(("layers", rendering.layers(denoised=given[0])))
        except Unwanted:
            answers.send(("stopped",))
        except MemoryError:
            answers.send(("failed", "memory"))
        except Exception:  # noqa: BLE001 - whatever it is, the other side tells it
            answers.send(("failed", traceback.format_exc()))


if __name__ == "__main__":
    main()
