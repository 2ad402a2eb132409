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
from mothseed.native.store import PARTS, file_of, is_temporary, kept, lasting_folder, read
from mothseed.native.target import Target, this_machine

_START = 1.5
"""Seconds that starting a compiler takes."""
_LOOK = 0.1

_Compilers = list[subprocess.Popen[bytes]]

_going_on: _Compilers = []
"""Those of this process that compile what no picture has needed yet."""


def compile_here(names: Sequence[str]) -> dict[str, Part]:
    """Compile parts for this machine, and wait for them. The compilers go on with all others, at low priority, and may outlast
    this process, unless the folder does not; what a picture needs of these is waited for. Raises CompilerError if that fails.
    """
    folder = lasting_folder()
    parts = _awaited(_going_on, folder, names)
    missing = [name for name in names if name not in parts]
    if missing:
        others = [] if is_temporary(folder) else [name for name in PARTS if name not in names and kept(name) is None]
        parts |= compile_for(this_machine(), folder, missing, others)
    return parts


def compile_for(target: Target, folder: Path, names: Sequence[str], later: Sequence[str] = ()) -> dict[str, Part]:
    """Compile parts into a folder, and wait for them, but not for those of `later`. Raises CompilerError if that fails."""
    ordered = [name for name in PARTS if name in names]
    command = _command(folder, target, ordered, later)
    with tempfile.TemporaryFile() as errors:
        compilers = [
            # What goes on is not ended with this process, nor by what ends it.
            subprocess.Popen(command, start_new_session=bool(later), **_quietly(errors))  # noqa: S603
            for _ in range(min(os.cpu_count() or 1, len(ordered) + len(later)))
        ]
        parts: dict[str, Part] = {}
        try:
            parts = _awaited(compilers, folder, ordered)
        finally:
            if later and len(parts) == len(ordered):
                _going_on[:] = compilers
            else:
                # No need to wait until the process that compiled the last part has cleaned up.
                for compiler in compilers:
                    compiler.kill()
                    compiler.wait()
        errors.seek(0)
        lines = [line for line in errors.read().decode(errors="replace").splitlines() if "Error" in line]
    if len(parts) < len(ordered):
        raise CompilerError(
            f"the renderer could not be compiled for this machine: {lines[-1] if lines else 'it does not say why'}"
        )
    return parts


def _awaited(compilers: _Compilers, folder: Path, names: Sequence[str]) -> dict[str, Part]:
    """The parts in a folder once all are there, or no compiler is left."""
    parts: dict[str, Part] = {}
    is_going_on = bool(compilers)
    whole = _seconds(names, len(compilers)) if is_going_on else 0.0
    begun = time.monotonic()
    while is_going_on and len(parts) < len(names):
        is_going_on = any(compiler.poll() is None for compiler in compilers)  # before it is looked what they have left
        parts |= {name: part for name in names if name not in parts and (part := read(file_of(folder, name)))}
        left = [name for name in names if name not in parts]
        guess = max(whole - (time.monotonic() - begun), _seconds(left, len(compilers)) / 2) if left else 0.0
        tell_of_compiling(CompilingProgress(len(parts), len(names), guess))
        if left:
            time.sleep(_LOOK)
    return parts


def _command(folder: Path, target: Target, names: Iterable[str], later: Iterable[str]) -> list[str]:
    # Files in the working directory must not be taken for modules of this program.
    words = (str(folder), target.as_text(), " ".join(names), " ".join(later))
    return [sys.executable, "-P", "-m", "mothseed.native.compiler", *words]


def _quietly(errors: IO[bytes]) -> dict[str, Any]:
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
