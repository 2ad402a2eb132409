"""Where compiled parts come from: ready-made with the package, from the user's cache folder, or compiled now.

There is one file for each part and each state of the sources, the kind of processor and the versions of the compiler. It is
whole or absent, it is looked at before it is loaded, and processes that start together wait for one that compiles. Where no
folder can be written, what was compiled lasts as long as this process and those that it starts.
"""

from __future__ import annotations

import atexit
import os
import shutil
import tempfile
from collections.abc import Iterable
from functools import lru_cache
from hashlib import blake2b
from importlib.util import find_spec
from pathlib import Path

from mothseed.files import file_hash, read_ordinary
from mothseed.native.part import Part
from mothseed.native.target import Target, this_machine

PARTS = {
    "tiles": 15.0,
    "edging": 14.0,
    "placing": 3.5,
    "sorting": 2.5,
    "filters": 2.5,
    "points": 2.0,
    "shading": 4.0,
    "ramps": 2.0,
    "shadowing": 5.0,
    "groups": 3.5,
    "sampling": 3.5,
    "noise": 2.0,
    "storing": 2.5,
    "reducing": 2.0,
}
"""The modules of `mothseed.kernels` with entries, and roughly how many seconds each takes to compile: first those that nearly
every picture needs, longest first, then the others, those that more pictures need before those that fewer do.
"""

COMMON = tuple(PARTS)[:6]
"""Parts that nearly every picture needs, compiled together when the first of them is needed."""

FOLDER_VARIABLE = "MOTHSEED_CACHE_DIR"
"""The environment variable for another folder for compiled parts."""

_IS_TEMPORARY = "temporary"
"""A file that says so, for the processes that this one starts."""

_PACKAGE = Path(__file__).parents[1]
_READY_MADE = _PACKAGE / "native" / "ready"
OUTSIDE = (
    "arrays.py",
    "bits.py",
    "portable.py",
    "geometry/verbs.py",
    "native/jit.py",
    "native/compiler.py",
    "native/lowering.py",
    "native/part.py",
    "native/target.py",
)
"""Files that kernels depend on besides their own modules."""


def ready(names: Iterable[str]) -> dict[str, Part]:
    """The named parts; missing ones are compiled. Raises CompilerError if that fails."""
    found = {name: kept(name) for name in names}
    if None in found.values():
        from mothseed.native.build import compile_here

        found = {name: kept(name) for name in COMMON} | found
        found |= compile_here([name for name, part in found.items() if part is None])
    return {name: part for name, part in found.items() if part is not None}


def kept(name: str) -> Part | None:
    """A part that is complete on disk."""
    for folder in (ready_made_folder(this_machine()), kernel_folder()):
        part = read(file_of(folder, name)) if folder else None
        if part:
            return part
    return None


def home() -> Path | None:
    """Where this machine gets its parts: from the package, or the folder of compiled ones; None if neither."""
    ready_made = ready_made_folder(this_machine())
    return ready_made if all(read(file_of(ready_made, name)) for name in PARTS) else kernel_folder()


def file_of(folder: Path, name: str) -> Path:
    """The file of a part."""
    return folder / f"{name}.kernels"


def read(file: Path) -> Part | None:
    """The part in a file, or None if there is none that is whole."""
    try:
        return Part.from_bytes(read_ordinary(file))
    except (OSError, ValueError):
        return None


def ready_made_folder(target: Target) -> Path:
    """Where the package has ready-made parts for a target, if any."""
    return _READY_MADE / f"{_state_of_sources()}-{target.triple}-{target.cpu}"


@lru_cache(maxsize=1)
def kernel_folder() -> Path | None:
    """The folder for compiled parts of exactly this state, or None if none can be written."""
    state = blake2b(f"{_state_of_sources()} {this_machine().as_text()} {_compiler_state()}".encode(), digest_size=8).hexdigest()
    folder = _parent() / f"kernels-{state}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        return None
    return folder if os.access(folder, os.W_OK | os.X_OK) else None


def lasting_folder() -> Path:
    """The same, or else a temporary folder for this process and those it starts."""
    folder = kernel_folder()
    if folder is None:
        own = Path(tempfile.mkdtemp(prefix="mothseed-"))
        atexit.register(shutil.rmtree, own, ignore_errors=True)
        (own / _IS_TEMPORARY).touch()
        os.environ[FOLDER_VARIABLE] = str(own)
        kernel_folder.cache_clear()
        folder = kernel_folder()
        assert folder is not None
    return folder


def is_temporary(folder: Path) -> bool:
    """Whether a folder for compiled parts goes with this process, or with the one that started it."""
    return (folder.parent / _IS_TEMPORARY).exists()


def _parent() -> Path:
    given = os.environ.get(FOLDER_VARIABLE)
    if given:
        return Path(given)
    from platformdirs import user_cache_path

    return user_cache_path("mothseed", "mothseed")


@lru_cache(maxsize=1)
def _state_of_sources() -> str:
    digest = blake2b(digest_size=8)
    for file in [*sorted((_PACKAGE / "kernels").glob("*.py")), *(_PACKAGE / each for each in OUTSIDE)]:
        digest.update(file.read_bytes())
    return digest.hexdigest()


def _compiler_state() -> str:
    """Identifies the version of the compiler without importing it, which would take longer than a picture."""
    found = [find_spec(name) for name in ("numba", "llvmlite")]
    return " ".join(file_hash(Path(spec.origin).with_name("_version.py")) or "" for spec in found if spec and spec.origin)
