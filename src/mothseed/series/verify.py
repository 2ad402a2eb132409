"""Holding a series against itself: its files against its ledger, and its editions made once more against both."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import BrokenExecutor, Future
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from mothseed.errors import MothSeedError, PictureError
from mothseed.render import RENDERER_VERSION, pixel_hash, rendered
from mothseed.render.png import read_pixels
from mothseed.series.crew import processes
from mothseed.series.job import Edition, failure_text
from mothseed.series.source import source_of
from mothseed.sheet import Drawing, fingerprint
from mothseed.sheet.drawing import KIND_NAMES
from mothseed.sketch import load_sketch, perform

CONTACT_NAME = "contact.png"


@dataclass(frozen=True, slots=True)
class Finding:
    """Something that is not as the ledger has it."""

    kind: str
    """missing, altered, unknown, unverifiable, or not reproducible"""
    file: str
    words: str


@dataclass(frozen=True, slots=True)
class Again:
    """What is needed to make an edition once more, from the series' own copy of its source."""

    edition: Edition
    sketch: Path


@dataclass(frozen=True, slots=True)
class _Remade:
    fingerprint: str
    pixel_hash: str
    error: str = ""


def files_against_ledger(folder: Path, editions: Sequence[Edition]) -> Iterator[Finding]:
    """Pictures that are missing, altered or unknown."""
    known = {edition.file for edition in editions if not edition.failed}
    for edition in editions:
        if edition.failed:
            continue
        path = folder / edition.file
        if not path.is_file():
            yield Finding("missing", edition.file, "its picture is gone; mothseed edition makes it again")
            continue
        try:
            same = pixel_hash(read_pixels(path)) == edition.pixel_hash
        except PictureError as fault:
            yield Finding("altered", edition.file, fault.message)
            continue
        if not same:
            yield Finding("altered", edition.file, "its pixels are not those that were made")
    for path in sorted(folder.glob("*.png")):
        if path.name not in known and path.name != CONTACT_NAME:
            yield Finding("unknown", path.name, "no edition of the ledger has this picture")


def sampled(editions: Sequence[Edition], count: int | None) -> list[Edition]:
    """That many of the editions that are done, evenly chosen; all without a count."""
    done = [edition for edition in editions if not edition.failed]
    if count is None or count >= len(done):
        return done
    return [done[index * len(done) // count] for index in range(count)]


def again_from_source(folder: Path, edition: Edition) -> Again | Finding:
    """Where the source of an edition lies in its series, or why there is none that it was made from."""
    copy = source_of(folder, edition)
    if isinstance(copy, str):
        return Finding("unverifiable", edition.file, copy)
    if edition.renderer != RENDERER_VERSION:
        return Finding("unverifiable", edition.file, "an older renderer made it")
    return Again(edition, copy)


def made_again(again: Sequence[Again], workers: int, done: Callable[[int], None]) -> Iterator[Finding]:
    """Make editions once more in fresh processes, the last one first, and say which are not as they were."""
    with other_hashes(1), processes(workers).open(workers) as pool:
        futures: list[tuple[Again, Future[_Remade]]] = [(each, pool.submit(_remade, each)) for each in reversed(again)]
        for each, future in futures:
            edition = each.edition
            try:
                remade = future.result()
            except BrokenExecutor:
                remade = _Remade("", "", "the process that made it was ended by the system")
            done(1)
            if remade.error:
                yield Finding("not reproducible", edition.file, f"it fails now: {remade.error}")
            elif remade.fingerprint != edition.fingerprint:
                yield Finding("not reproducible", edition.file, _what_differs(each))
            elif remade.pixel_hash != edition.pixel_hash:
                yield Finding("not reproducible", edition.file, "its drawing is the same, its pixels are not")


def _remade(again: Again) -> _Remade:
    try:
        drawing = _performed(again)
        return _Remade(fingerprint(drawing), pixel_hash(rendered(drawing, again.edition.width, threads=1)))
    except MothSeedError as fault:
        return _Remade("", "", failure_text(fault))


def _performed(again: Again) -> Drawing:
    edition = again.edition
    sketch = load_sketch(again.sketch)
    dials = {name: value for name, value in edition.dials.items() if name in sketch.artwork.dials}
    return perform(sketch, edition.seed, dials, edition.reseeds, edition.without).drawing


def _what_differs(again: Again) -> str:
    """The first mark that two processes draw differently, in words."""
    drawings = []
    for number in (2, 3):
        with other_hashes(number), processes(1).open(1) as pool:
            drawings.append(pool.submit(_performed, again).result())
    return first_difference(*drawings) or "it is drawn alike each time here, but not as it was: something it uses has changed"


def first_difference(one: Drawing, other: Drawing) -> str:
    """The first mark of two drawings that is not the same, in words; empty where all are."""
    count = min(len(one), len(other))
    differs = np.array([_as_drawn(one, index) != _as_drawn(other, index) for index in range(count)], np.bool)
    if differs.any():
        index = int(np.argmax(differs))
        return f"mark {index + 1} of {len(one)} differs from run to run: {_told(one, index)}, then {_told(other, index)}"
    if len(one) != len(other):
        longer = one if len(one) > len(other) else other
        return f"there are {len(one)} marks in one run and {len(other)} in another; the first more is {_told(longer, count)}"
    return ""


def _as_drawn(drawing: Drawing, index: int) -> bytes:
    mark = drawing.marks[index]
    outline = drawing.outlines[mark["outline"]].points.tobytes() if mark["kind"] > KIND_NAMES.index("line") else b""
    view = drawing.views[mark["view"]].tobytes()
    own = [mark[name].tobytes() for name in mark.dtype.names or () if name not in ("view", "outline")]
    return b"".join([*own, view, outline])


def _told(drawing: Drawing, index: int) -> str:
    mark = drawing.marks[index]
    kind = KIND_NAMES[mark["kind"]]
    a, b, c, d, e, f = drawing.views[mark["view"]].tolist()
    x, y = mark["place"][:2].tolist() if mark["kind"] <= KIND_NAMES.index("line") else _first_point(drawing, mark)
    return f"a {kind} at {a * x + c * y + e:.2f}, {b * x + d * y + f:.2f}"


def _first_point(drawing: Drawing, mark: np.void) -> tuple[float, float]:
    points = drawing.outlines[mark["outline"]].points
    return (float(points[0, 0]), float(points[0, 1])) if len(points) else (0.0, 0.0)


@contextmanager
def other_hashes(number: int) -> Iterator[None]:
    """Processes begun within order their sets by other hashes than those begun elsewhere."""
    before = os.environ.get("PYTHONHASHSEED")
    os.environ["PYTHONHASHSEED"] = str(number)
    try:
        yield
    finally:
        if before is None:
            del os.environ["PYTHONHASHSEED"]
        else:
            os.environ["PYTHONHASHSEED"] = before
