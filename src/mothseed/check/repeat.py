"""Whether a sketch draws the same in other processes."""

from __future__ import annotations

import os
import site
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import platformdirs

from mothseed.check.finding import Finding
from mothseed.series import Seed, Variant, processes
from mothseed.series.verify import first_difference, other_hashes
from mothseed.sheet import Drawing, fingerprint
from mothseed.sketch import Impression, Sketch, load_sketch, perform
from mothseed.sketch.trace import Line

_PROCESSES = 2


def repeat_findings(sketch: Sketch, impressions: Sequence[Impression], variant: Variant) -> Iterator[Finding]:
    """Perform the seeds again, the last first, in processes with other hash seeds; hold them against what was drawn here."""
    again = list(impressions)[::-1]
    files: set[str] = set()
    told = False
    for number in range(1, _PROCESSES + 1):
        with other_hashes(number), processes(1).open(1) as pool:
            drawings, opened = pool.submit(_performed, sketch.path, [each.seed for each in again], variant).result()
        files |= opened
        for impression, drawing in zip(again[::-1], drawings[::-1], strict=True):
            if not told and fingerprint(drawing) != fingerprint(impression.drawing):
                told = True
                yield _irreproducible(impression, drawing)
    line = Line(str(sketch.path), sketch.artwork.line)
    for file in sorted(files):
        if _is_foreign(Path(file), sketch.folder):
            remedy = "put it beside the sketch, so that a series keeps a copy of it"
            yield Finding("outside-file", line, f"{file} is read", remedy)


def _performed(path: Path, seeds: Sequence[Seed], variant: Variant) -> tuple[list[Drawing], set[str]]:
    """What a fresh process draws, and which files it opens meanwhile; of these Python itself tells."""
    opened: set[str] = set()
    listening = True

    def heard(event: str, arguments: tuple[Any, ...]) -> None:
        if listening and event == "open" and isinstance(arguments[0], str):
            opened.add(os.path.realpath(arguments[0]))

    sys.addaudithook(heard)
    try:
        sketch = load_sketch(path)
        return [perform(sketch, seed, variant.dials, variant.reseeds).drawing for seed in seeds], opened
    finally:
        listening = False


def _irreproducible(impression: Impression, other: Drawing) -> Finding:
    words = first_difference(impression.drawing, other) or "its sheet differs"
    origins = impression.origins
    assert origins is not None
    line = None
    for mark in range(min(len(impression.drawing), len(other))):
        if impression.drawing.marks[mark].tobytes() != other.marks[mark].tobytes():
            calls = origins.calls[origins.of_marks[mark]]
            line = calls[0] if calls else None
            break
    return Finding(
        "irreproducible", line, f"seed {impression.seed}: {words}", "look for what no seed decides: times, sets, files, random"
    )


def _is_foreign(file: Path, folder: Path) -> bool:
    """Whether a file is none of the sketch's folder, of Python, of its libraries, or of the system."""
    libraries = [*site.getsitepackages(), site.getusersitepackages(), platformdirs.user_cache_dir()]
    system = ("/proc", "/dev", "/sys", "/etc", "/usr", sys.prefix, sys.base_prefix)
    own = [folder, Path(__file__).resolve().parents[1], *map(Path, (*libraries, *system))]
    return file.is_file() and not any(file.is_relative_to(place.resolve()) for place in own)
