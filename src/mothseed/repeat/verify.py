"""Verifying a series: its files against its ledger, and remade editions against both."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import BrokenExecutor, Future
from dataclasses import dataclass, fields, replace
from pathlib import Path

from mothseed.arrays import ByteArray
from mothseed.colour.value import Swatches
from mothseed.faults import MothSeedError, PictureError
from mothseed.formats.picture_reading import read_pixels
from mothseed.layout import CONTACT_NAME, MANIFEST_NAME
from mothseed.making import Made, make_again
from mothseed.measure import forms_of, reduced
from mothseed.records import RecordError
from mothseed.render import RENDERER_VERSION, pixel_hash
from mothseed.repeat.difference import first_difference
from mothseed.repeat.processes import fresh_processes
from mothseed.series.edition import Edition
from mothseed.series.job import failure_text, measurements
from mothseed.series.other_forms import fingerprint_in
from mothseed.series.pack import manifest_of
from mothseed.series.pictures import otherwise
from mothseed.series.source import source_of
from mothseed.sheet import Drawing, fingerprint
from mothseed.sketch import load_sketch
from mothseed.sketch.history import history_in_picture
from mothseed.sketch.provenance import Provenance

_CLOSE = 1e-6
"""Tolerance for measures, as sums of floats differ between machines."""
_MOST_LOOKED_INTO = 24
"""How many wrong editions are searched for the first differing mark; the others likely have the same fault."""


@dataclass(frozen=True, slots=True)
class Deviation:
    """Something that is not as recorded in the ledger."""

    kind: str
    """missing, altered, unknown, unverifiable, or not reproducible"""
    file: str
    words: str


@dataclass(frozen=True, slots=True)
class Again:
    """What it takes to remake an edition from the series' own copy of its source."""

    edition: Edition
    sketch: Path

    @property
    def is_stale(self) -> bool:
        """Whether an older renderer painted it, so that its drawing can be compared with today's but its pixels cannot."""
        return self.edition.renderer < RENDERER_VERSION


@dataclass(frozen=True, slots=True)
class _Remade:
    fingerprint: str
    pixel_hash: str
    error: str = ""
    wrong: tuple[str, ...] = ()
    """parts of the ledger's row that differ from the result: outcomes, measures and so on"""


def files_against_ledger(folder: Path, editions: Sequence[Edition]) -> Iterator[Deviation]:
    """Pictures that are missing, altered or unknown."""
    known = {edition.file for edition in editions if not edition.failed}
    for edition in editions:
        if edition.failed:
            continue
        yield from _picture_against_ledger(folder, edition)
        yield from _forms_against_ledger(folder, edition)
    forms = {name for edition in editions for name in edition.files}
    places = {Path(name).parent.name for name in forms}
    for path in sorted([*folder.glob("*.png"), *(path for place in places for path in (folder / place).glob("*.*"))]):
        name = path.relative_to(folder).as_posix()
        if name not in known | forms and name != CONTACT_NAME:
            yield Deviation("unknown", name, "it is not in the ledger")


def _picture_against_ledger(folder: Path, edition: Edition) -> Iterator[Deviation]:
    """A picture that is missing or altered, or has the history of another."""
    path = folder / edition.file
    if not path.is_file() or path.is_symlink():
        yield Deviation("missing", edition.file, "its picture is gone; mothseed edition makes it again")
        return
    try:
        same = pixel_hash(read_pixels(path)) == edition.pixel_hash
    except PictureError as fault:
        yield Deviation("altered", edition.file, fault.message)
        return
    words = _otherwise_in_history(path, edition) if same else "its pixels were changed"
    if words:
        yield Deviation("altered", edition.file, words)


def _forms_against_ledger(folder: Path, edition: Edition) -> Iterator[Deviation]:
    """Other forms of an edition's picture that are missing or altered, or belong to another."""
    wrong = dict(otherwise(folder, edition.files))
    for name in edition.files:
        kind = wrong.get(name, "")
        if kind:
            yield Deviation(kind, name, "it is gone" if kind == "missing" else "it is not what was made")
        elif fingerprint_in(folder / name) != edition.fingerprint:
            yield Deviation("altered", name, "the history in it is not that of its edition")


def files_against_manifest(folder: Path) -> Iterator[Deviation]:
    """Files of an unpacked series that are not as they were packed; empty if it was not packed."""
    try:
        files = manifest_of(folder)
    except RecordError as fault:
        yield Deviation("altered", MANIFEST_NAME, str(fault))
        return
    for name, kind in otherwise(folder, files or {}):
        yield Deviation(kind, name, "it was in the pack" if kind == "missing" else "it was changed after packing")


def _otherwise_in_history(path: Path, edition: Edition) -> str:
    """How the history in a picture differs from the ledger, in words; empty if it does not."""
    history = history_in_picture(path)
    if history is None:
        return "its history is gone"
    both = [each.name for each in fields(Provenance)]
    other = [name for name in both if getattr(history, name) != getattr(edition, name)]
    return f"the history in it and the ledger differ in {', '.join(other)}" if other else ""


def sampled(editions: Sequence[Edition], count: int | None) -> list[Edition]:
    """That many of the finished editions, evenly chosen; all without a count."""
    done = [edition for edition in editions if not edition.failed]
    if count is None or count >= len(done):
        return done
    return [done[index * len(done) // count] for index in range(count)]


def again_from_source(folder: Path, edition: Edition) -> Again | Deviation:
    """The source of an edition in its series, or why it is missing."""
    copy = source_of(folder, edition)
    if isinstance(copy, str):
        return Deviation("unverifiable", edition.file, copy)
    if edition.renderer > RENDERER_VERSION:
        return Deviation("unverifiable", edition.file, "a later version of Moth Seed painted it")
    return Again(edition, copy)


def made_again(again: Sequence[Again], workers: int, done: Callable[[int], None]) -> Iterator[Deviation]:
    """Remake editions in fresh processes, the last one first, and report which differ."""
    otherwise: list[Again] = []
    with fresh_processes(workers, 1) as pool:
        futures: list[tuple[Again, Future[_Remade]]] = [(each, pool.submit(_remade, each)) for each in reversed(again)]
        for each, future in futures:
            edition = each.edition
            try:
                remade = future.result()
            except BrokenExecutor:
                remade = _Remade("", "", "the process that made it was ended by the system")
            done(1)
            if remade.error:
                yield Deviation("not reproducible", edition.file, f"it fails now: {remade.error}")
            elif remade.fingerprint != edition.fingerprint:
                otherwise.append(each)
            elif remade.pixel_hash != edition.pixel_hash:
                yield Deviation("not reproducible", edition.file, "its drawing is the same, its pixels are not")
            elif remade.wrong:
                words = f"its {', '.join(remade.wrong)} in the ledger are not those that come of it"
                yield Deviation("altered", edition.file, words)
    for each, words in zip(otherwise, _what_differs(otherwise, workers), strict=True):
        yield Deviation("not reproducible", each.edition.file, words)


def _remade(again: Again) -> _Remade:
    try:
        made = _made(again)
        if again.is_stale:
            wrong = tuple(_wrong_in_drawing(again.edition, made))
            return _Remade(fingerprint(made.drawing), again.edition.pixel_hash, wrong=wrong)
        pixels = made.pixels(again.edition.width, threads=1)
        return _Remade(fingerprint(made.drawing), pixel_hash(pixels), wrong=tuple(_wrong_in_row(again.edition, made, pixels)))
    except MothSeedError as fault:
        return _Remade("", "", failure_text(fault))


def _wrong_in_row(edition: Edition, made: Made, pixels: ByteArray) -> Iterator[str]:
    """Which parts of an edition's ledger row, apart from hashes, differ from the result; missing ones are not wrong."""
    yield from _wrong_in_drawing(edition, made)
    fresh = replace(edition, **measurements(made.drawing, reduced(pixels)))
    both = edition.measures.keys() & fresh.measures.keys()
    if any(not math.isclose(edition.measures[name], fresh.measures[name], rel_tol=_CLOSE, abs_tol=_CLOSE) for name in both):
        yield "measures"
    if edition.palette and not _same_palette(edition.palette, fresh.palette):
        yield "palette"
    if edition.appearance and edition.appearance != fresh.appearance:
        yield "appearance"


def _wrong_in_drawing(edition: Edition, made: Made) -> Iterator[str]:
    """Which parts of the row differ from the drawing, regardless of the renderer."""
    if edition.outcomes != made.history.outcomes:
        yield "outcomes"
    if edition.forms and edition.forms != forms_of(made.drawing):
        yield "forms"


def _same_palette(one: Swatches, other: Swatches) -> bool:
    shares = zip((share for _, share in one), (share for _, share in other), strict=False)
    alike = len(one) == len(other) and [colour for colour, _ in one] == [colour for colour, _ in other]
    return alike and all(math.isclose(first, second, rel_tol=_CLOSE, abs_tol=_CLOSE) for first, second in shares)


def _made(again: Again) -> Made:
    return make_again(load_sketch(again.sketch), again.edition)


def _drawing(again: Again) -> Drawing:
    return _made(again).drawing


def _what_differs(wrong: Sequence[Again], workers: int) -> list[str]:
    """For editions drawn differently, or some of many, the first mark that two processes draw differently, in words."""
    first = wrong[:_MOST_LOOKED_INTO]
    drawings: list[list[Drawing | None]] = []
    for number in (2, 3) if first else ():
        with fresh_processes(min(workers, len(first)), number) as pool:
            drawings.append([_result(future) for future in [pool.submit(_drawing, each) for each in first]])
    words = []
    for one, other in zip(*drawings, strict=True):
        told = first_difference(one, other) if one is not None and other is not None else ""
        words.append(told or "it is drawn alike each time here, but not as it was: something it uses has changed")
    return words + ["it is not drawn as it was"] * (len(wrong) - len(first))


def _result(future: Future[Drawing]) -> Drawing | None:
    try:
        return future.result()
    except (BrokenExecutor, MothSeedError):
        return None
