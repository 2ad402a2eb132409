"""How kernels are compiled, and where they are kept."""

from __future__ import annotations

import os
from collections.abc import Callable
from hashlib import blake2b
from pathlib import Path
from typing import Any, TypeVar, cast

import numba
from numba.core.event import Event, Listener, register
from platformdirs import user_cache_path

Function = TypeVar("Function", bound=Callable[..., object])


def _kernel_folder() -> Path | None:
    """A folder for the compiled kernels of just this source, or None where none can be written.

    Numba notices a change in the file of a kernel, not in the files of the kernels that it calls; so each state of the
    whole part has a folder of its own.
    """
    digest = blake2b(digest_size=8)
    for file in sorted(Path(__file__).parent.glob("*.py")):
        digest.update(file.read_bytes())
    parent = os.environ.get("NUMBA_CACHE_DIR") or user_cache_path("mothseed", "mothseed")
    folder = Path(parent) / f"kernels-{digest.hexdigest()}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        return None
    return folder if os.access(folder, os.W_OK | os.X_OK) else None


_settings: Any = numba.config
KERNEL_FOLDER = _kernel_folder()


def kernel(function: Function) -> Function:
    """A function compiled by Numba, kept on disk where that is possible, and free to run beside other threads.

    No fast mathematics: each operation is what IEEE 754 says it is, so that all processors give the same pixels. A
    division by 0 gives infinity as in NumPy, which lets loops run without a branch for it.
    """
    return _compiled(function, inlined=False)


def inlined(function: Function) -> Function:
    """A kernel for the innermost loops, copied into each that calls it: handing over three arrays costs more than a row."""
    return _compiled(function, inlined=True)


def _compiled(function: Function, *, inlined: bool) -> Function:
    before = _settings.CACHE_DIR
    # Numba reads the setting when a function is decorated; a sketch's own compiled functions are not to land here.
    _settings.CACHE_DIR = str(KERNEL_FOLDER or "")
    try:
        decorate = numba.njit(nogil=True, cache=KERNEL_FOLDER is not None, error_model="numpy", forceinline=inlined)
        return cast("Function", decorate(function))
    finally:
        _settings.CACHE_DIR = before


class _Listener(Listener):
    """Tells once that a kernel of ours is being compiled rather than read from disk."""

    def __init__(self, tell: Callable[[], None]) -> None:
        self._tell: Callable[[], None] | None = tell

    def on_start(self, event: Event) -> None:
        module = getattr(event.data.get("dispatcher"), "__module__", None)
        if self._tell is not None and str(module).startswith("mothseed."):
            tell, self._tell = self._tell, None
            tell()

    def on_end(self, event: Event) -> None:
        pass


def when_compiling(tell: Callable[[], None]) -> None:
    """Have `tell` called before the first kernel that is not on disk yet is compiled, which takes a while."""
    register("numba:compile", _Listener(tell))  # type: ignore[no-untyped-call]
