"""Compiling missing parts, in as many processes as there are processors."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import IO, Any

from mothseed.faults import CompilerError
from mothseed.native.compiling import CompilingProgress, tell_of_compiling
from mothseed.native.part import Part
from mothseed.native.store import PARTS, file_of, kept, lasting_folder, read
from mothseed.native.target import Target, this_machine

_START = 1.5
"""Seconds that starting a compiler takes."""
_LOOK = 0.1
_LOW_PRIORITY = 10


def compile_for(target: Target, folder: Path, names: Sequence[str]) -> dict[str, Part]:
    """Compile parts into a folder, and wait for them. Raises CompilerError if that fails."""
    ordered = [name for name in PARTS if name in names]
    workers = min(os.cpu_count() or 1, len(ordered))
    whole = _seconds(ordered, workers)
    begun = time.monotonic()
    parts: dict[str, Part] = {}
    with tempfile.TemporaryFile() as errors:
        compilers = [subprocess.Popen(_command(folder, target, ordered), **_quietly(errors)) for _ in range(workers)]  # noqa: S603
        try:
            # No need to wait until the process that compiled the last part has cleaned up.
            while _found(folder, ordered, parts) < len(ordered) and any(compiler.poll() is None for compiler in compilers):
                left = [name for name in ordered if name not in parts]
                guess = max(whole - (time.monotonic() - begun), _seconds(left, workers) / 2)
                tell_of_compiling(CompilingProgress(len(parts), len(ordered), guess))
                time.sleep(_LOOK)
        finally:
            for compiler in compilers:
                compiler.kill()
                compiler.wait()
        errors.seek(0)
        lines = [line for line in errors.read().decode(errors="replace").splitlines() if "Error" in line]
    if _found(folder, ordered, parts) < len(ordered):
        raise CompilerError(
            f"the renderer could not be compiled for this machine: {lines[-1] if lines else 'it does not say why'}"
        )
    tell_of_compiling(CompilingProgress(len(ordered), len(ordered), 0.0))
    return parts


def _found(folder: Path, names: Iterable[str], parts: dict[str, Part]) -> int:
    """Add the complete parts in a folder to those found before; returns how many there are."""
    for name in names:
        if name not in parts and (part := read(file_of(folder, name))):
            parts[name] = part
    return len(parts)


def compile_rest_beside() -> None:
    """Start compiling parts that no picture has needed yet, in a background process that may outlast this one."""
    folder = lasting_folder()
    missing = [name for name in PARTS if kept(name) is None]
    if missing:
        command = _command(folder, this_machine(), missing, niceness=_LOW_PRIORITY)
        _beside.append(subprocess.Popen(command, start_new_session=True, **_quietly(subprocess.DEVNULL)))  # noqa: S603


_beside: list[subprocess.Popen[bytes]] = []
"""Compilers in the background, kept here because Python warns of processes that are dropped."""


def _command(folder: Path, target: Target, names: Iterable[str], niceness: int = 0) -> list[str]:
    # Files in the working directory must not be taken for modules of this program.
    return [sys.executable, "-P", "-m", "mothseed.native.compiler", str(niceness), str(folder), target.as_text(), *names]


def _quietly(errors: int | IO[bytes]) -> dict[str, Any]:
    """The environment of a compiler: that of this process, without settings of an artist for their own compiler."""
    mine = {name: value for name, value in os.environ.items() if not name.startswith("NUMBA_")}
    places = [str(Path(__file__).parents[2]), *filter(None, [mine.get("PYTHONPATH")])]
    # It would optimise each kernel separately before the whole part, which takes twice as long.
    quick = {"NUMBA_OPT": "0", "NUMBA_LOOP_VECTORIZE": "0", "PYTHONPATH": os.pathsep.join(places)}
    return {"env": {**mine, **quick}, "stdin": subprocess.DEVNULL, "stdout": subprocess.DEVNULL, "stderr": errors}


def _seconds(names: Sequence[str], workers: int) -> float:
    """Rough seconds to compile these."""
    each = [PARTS[name] for name in names]
    return max(sum(each) / workers, *each, 0.0) + _START if each else 0.0
