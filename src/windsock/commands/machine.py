"""What the machine must have: system packages, the front end's packages and its build."""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
import sys
from collections.abc import Generator
from contextlib import contextmanager
from glob import glob
from pathlib import Path

from windsock.commands.say import Trouble, say
from windsock.picture.renderer import LLVM
from windsock.processes.confined import clean_environment

ROOT = Path(__file__).parents[3]
HOME = ROOT / ".windsock"
FRONTEND = ROOT / "frontend"

SERVER_PACKAGES = ["postgresql"]
PICTURE_PACKAGES = ["libllvm19"]
TEST_PACKAGES = ["chromium", "chromium-driver", "libgl1-mesa-dri", "libegl1"]


def ensure_postgres() -> Path:
    """The folder with PostgreSQL's programs, installed first where it is missing."""
    folder = _postgres_folder()
    if folder is None:
        _install(SERVER_PACKAGES)
        folder = _postgres_folder()
    if folder is None:
        raise Trouble("PostgreSQL was installed, but its programs are not in /usr/lib/postgresql. Nothing was started.")
    return folder


def ensure_browser() -> None:
    """Chromium and its driver, for tests."""
    if not (shutil.which("chromium") and shutil.which("chromedriver")):
        _install(TEST_PACKAGES)


def ensure_picture_packages() -> None:
    """What finished pictures and films are made with, about 0.5 GB, each installed only where it is missing."""
    wanted = ROOT / "requirements-picture.lock"
    made = _stamp("picture", [wanted])
    if not made.exists():
        say("Installing what renders pictures ...")
        pip = [sys.executable, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "-r", str(wanted)]
        _run(pip, ROOT, "picture.log")
        _mark(made)
    if not glob(LLVM):
        _install(PICTURE_PACKAGES)


def ensure_packages() -> None:
    """The front end's packages, as its lock file names them."""
    if shutil.which("npm") is None:
        raise Trouble(
            "Node 20 and npm are needed. Nothing was changed. Install them, for example with: apt-get install nodejs npm"
        )
    packages = _stamp("npm", [FRONTEND / "package-lock.json"])
    if not packages.exists() or not (FRONTEND / "node_modules").exists():
        say("Installing the front end's packages ...")
        _run(["npm", "ci", "--no-audit", "--no-fund", "--loglevel=error"], FRONTEND, "npm.log")
        _mark(packages)


def ensure_frontend() -> None:
    """The front end's packages and its build, each made again only when what it is made of has changed."""
    ensure_packages()
    sources = [path for path in sorted((FRONTEND / "src").rglob("*")) if path.is_file()]
    names = ("index.html", "package-lock.json", "vite.config.ts", "tsconfig.json")
    built = _stamp("build", [*sources, *(FRONTEND / name for name in names), ROOT / "docs" / "shot.schema.json"])
    if not built.exists() or not (FRONTEND / "dist" / "index.html").exists():
        say("Building the front end ...")
        _run(["npm", "run", "build", "--silent"], FRONTEND, "build.log")
        _mark(built)


@contextmanager
def compiling_kernels() -> Generator[None]:
    """Has every kernel compiled that the demo, the starters and each kind call, so that nobody waits for the compiler.

    It is done on one core; what is to be done meanwhile stands in the body.
    """
    core = ROOT / "src" / "windsock" / "core"
    sources = [
        *sorted(core.rglob("*.py")),
        ROOT / "src" / "windsock" / "demo" / "compiling.py",
        ROOT / "requirements.lock",
    ]
    made = _stamp("kernels", sources)
    if made.exists():
        yield
        return
    say("Compiling what computes; this takes a minute or two, once for a version ...")
    command = [sys.executable, "-m", "windsock.demo.compiling"]
    with (HOME / "kernels.log").open("w") as log:
        process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=log, text=True, env=clean_environment())
        try:
            yield
            _tell_progress(process)
        finally:
            process.kill()
            failed = process.wait()
    if failed:
        # It works without: kernels are then compiled when they are first called.
        say(f"Not all could be compiled ahead; {HOME / 'kernels.log'} says why. The first pictures take longer.")
        return
    _mark(made)


def _tell_progress(process: subprocess.Popen[str]) -> None:
    """Say how far a process is that writes lines such as `3 of 24: name`, until it ends."""
    tenths = 0
    for line in process.stdout or ():
        done, _, total = line.split(":")[0].partition(" of ")
        if done.isdecimal() and total.strip().isdecimal() and 10 * int(done) // int(total) > tenths:
            tenths = 10 * int(done) // int(total)
            say(f"  {10 * tenths} %")
    process.wait()


def _postgres_folder() -> Path | None:
    found = sorted(glob("/usr/lib/postgresql/*/bin/postgres"), key=lambda path: int(Path(path).parts[-3]))
    return Path(found[-1]).parent if found else None  # a cluster that is there has programs of its own version


def _install(packages: list[str]) -> None:
    words = " ".join(packages)
    if os.geteuid() != 0:
        raise Trouble(
            f"These system packages are missing: {words}. Nothing was changed. Have an administrator run: apt-get install {words}"
        )
    say(f"Installing system packages: {words} ...")
    environment = os.environ | {"DEBIAN_FRONTEND": "noninteractive"}
    _run(["apt-get", "update", "-q"], ROOT, "apt.log", environment)
    # Debian's package would start a cluster of its own; ours is private.
    shared = Path("/etc/postgresql-common/createcluster.conf")
    if "postgresql" in packages and not shared.exists():
        shared.parent.mkdir(parents=True, exist_ok=True)
        shared.write_text("create_main_cluster = false\n")
    _run(
        [
            "apt-get",
            "install",
            "-y",
            "-q",
            "--no-install-recommends",
            "-o",
            "Dpkg::Options::=--force-confold",
            *packages,
        ],
        ROOT,
        "apt.log",
        environment,
    )


def _run(command: list[str], folder: Path, log: str, environment: dict[str, str] | None = None) -> None:
    HOME.mkdir(exist_ok=True)
    with (HOME / log).open("w") as out:
        done = subprocess.run(command, cwd=folder, stdout=out, stderr=subprocess.STDOUT, env=environment, check=False)
    if done.returncode:
        tail = "\n".join((HOME / log).read_text(errors="replace").splitlines()[-12:])
        raise Trouble(f"{' '.join(command[:3])} failed; {HOME / log} has all of it, and it ends:\n{tail}")


def _mark(stamp: Path) -> None:
    """What was made last is what is there: the marks of what was made before it, of the same kind, go."""
    for other in stamp.parent.glob(f"{stamp.name.rsplit('-', 1)[0]}-*"):
        other.unlink()
    stamp.touch()


def _stamp(name: str, paths: list[Path]) -> Path:
    digest = hashlib.sha256()
    for path in paths:
        digest.update(str(path.relative_to(ROOT)).encode() + b"\0" + path.read_bytes())
    folder = HOME / "stamps"
    folder.mkdir(parents=True, exist_ok=True)
    return folder / f"{name}-{digest.hexdigest()[:16]}"
