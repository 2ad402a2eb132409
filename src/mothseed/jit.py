"""How kernels are compiled, and where they are kept."""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import lru_cache
from hashlib import blake2b
from pathlib import Path
from typing import Any, TypeVar, cast

import numba
from numba.core.event import Event, Listener, register
from platformdirs import user_cache_path

from mothseed.compiling import compiling_begins

Function = TypeVar("Function", bound=Callable[..., object])


@lru_cache(maxsize=8)
def kernel_folder(part: str) -> Path | None:
    """A folder for the compiled kernels of a part of this very source, or None where none can be written.

    Numba notices a change in the file of a kernel, not in the files of the kernels that it calls; so each state of a
    whole part, and of this file, has a folder of its own.
    """
    own = Path(__file__)
    digest = blake2b(digest_size=8)
    for file in [own, *sorted((own.parent / part).rglob("*.py"))]:
        digest.update(file.read_bytes())
    parent = os.environ.get("NUMBA_CACHE_DIR") or user_cache_path("mothseed", "mothseed")
    folder = Path(parent) / f"{part}-{digest.hexdigest()}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        return None
    return folder if os.access(folder, os.W_OK | os.X_OK) else None


_settings: Any = numba.config


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
    folder = kernel_folder(function.__module__.split(".")[1])
    # Numba reads the setting when a function is decorated; a sketch's own compiled functions are not to land here.
    _settings.CACHE_DIR = str(folder or "")
    try:
        decorate = numba.njit(nogil=True, cache=folder is not None, error_model="numpy", forceinline=inlined)
        return cast("Function", decorate(function))
    finally:
        _settings.CACHE_DIR = before


class _Listener(Listener):
    """Tells that a kernel of the renderer is being compiled rather than read from disk."""

    def on_start(self, event: Event) -> None:
        module = getattr(event.data.get("dispatcher"), "__module__", None)
        if str(module).startswith("mothseed."):
            compiling_begins()

    def on_end(self, event: Event) -> None:
        pass


register("numba:compile", _Listener())  # type: ignore[no-untyped-call]
