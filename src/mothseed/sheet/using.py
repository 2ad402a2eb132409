"""How the uses of symbols become marks of a drawing."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray, RecordArray, WholeArray
from mothseed.colour.placed import Picture
from mothseed.colour.ramp import Ramp
from mothseed.colour.value import WHITE, Colour
from mothseed.geometry.affine import Affine, composed, enlargements
from mothseed.geometry.outlines import Outlines
from mothseed.sheet.drawing import Drawing, Uses
from mothseed.sheet.finish import Finish
from mothseed.sheet.group import Group
from mothseed.sheet.symbol import Symbol, UseTints

_COLOUR_STEPS = np.float32(65535)
"""Colours are kept in steps finer than any screen shows and coarser than what processors disagree on."""


class Placed(NamedTuple):
    """A symbol used once or many times in a row, as it is recorded."""

    symbol: Symbol
    first: int
    """which mark, counted as they are drawn, is the first of it"""
    matrices: Sequence[Affine] | FloatArray
    """float64 (u, 6): the map of each use to the sheet"""
    stroke_ratio: float
    """by how much wider strokes are than the maps make them"""
    group: int
    tints: UseTints


class Recorded(NamedTuple):
    """The parts of a drawing that uses add to."""

    marks: RecordArray
    views: FloatArray
    stroke_scales: FloatArray
    outlines: Outlines
    groups: tuple[Group, ...]
    finishes: tuple[Finish, ...]


def with_uses(recorded: Recorded, placed: Sequence[Placed], drawn: int) -> tuple[Recorded, tuple[Uses, ...]]:
    """What was recorded, with a symbol's marks for each of its uses where they were recorded once: `drawn` marks in all.

    A symbol's outlines come in once, its views and clips once for each use.
    """
    if not placed:
        return recorded, ()
    by_symbol: dict[int, list[Placed]] = {}
    for each in placed:
        by_symbol.setdefault(id(each.symbol), []).append(each)
    uses = []
    recorded = recorded._replace(marks=recorded.marks.take(_record_of_each(placed, drawn)))
    for runs in by_symbol.values():
        symbol = runs[0].symbol
        counts = np.array([len(run.matrices) for run in runs])
        within = np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts)
        firsts = np.repeat([run.first for run in runs], counts) + within * len(symbol)
        matrices = np.concatenate([np.asarray(run.matrices, np.float64) for run in runs])
        ratios = np.repeat([run.stroke_ratio for run in runs], counts)
        groups = np.repeat([run.group for run in runs], counts)
        recorded = _used(
            recorded, symbol.drawing, firsts, matrices, ratios, groups, _joined([run.tints for run in runs], counts)
        )
        uses.append(Uses(symbol.name, symbol.drawing, firsts, matrices))
    return recorded, tuple(uses)


def _record_of_each(placed: Sequence[Placed], drawn: int) -> WholeArray:
    """Which record each mark is made of: int64 (drawn,)."""
    pieces, record, mark = [], 0, 0
    for each in placed:
        size, count = len(each.symbol), len(each.matrices)
        if count > 1:
            record += each.first - mark
            pieces += [np.arange(record - each.first + mark, record), np.tile(np.arange(record, record + size), count)]
            record += size
            mark = each.first + size * count
    return np.concatenate([*pieces, np.arange(record, record + drawn - mark)])


def _joined(tints: Sequence[UseTints], counts: WholeArray) -> UseTints:
    """The tints of several runs of uses as one."""
    if all(each is tints[0] for each in tints) and len(tints[0].colours) == len(tints[0].opacities) == 1:
        return tints[0]
    colours = [np.broadcast_to(each.colours, (count, 4)) for each, count in zip(tints, counts.tolist(), strict=True)]
    opacities = [np.broadcast_to(each.opacities, count) for each, count in zip(tints, counts.tolist(), strict=True)]
    return UseTints(np.concatenate(colours), np.concatenate(opacities))


def _used(
    recorded: Recorded,
    symbol: Drawing,
    firsts: WholeArray,
    matrices: FloatArray,
    stroke_ratios: FloatArray,
    groups: WholeArray,
    tints: UseTints,
) -> Recorded:
    """With all uses of one symbol, whose marks are there, but refer to its own views, outlines, clips and finishes."""
    count, template = len(firsts), symbol.marks
    size, first = len(template), int(firsts[0])
    turns = np.arange(count)[:, None]
    clips = len(symbol.groups) - 1
    clip_numbers = len(recorded.groups) - 1 + turns * clips + template["group"]
    finishes, finish_numbers = _finishes_of(recorded.finishes, symbol.finishes, tints.colours)
    columns: dict[str, np.ndarray[Any, Any]] = {
        "view": len(recorded.views) + turns * len(symbol.views) + template["view"],
        "outline": len(recorded.outlines) + template["outline"],
        "group": np.where(template["group"] > 0, clip_numbers, groups[:, None]) if clips else _once(groups)[:, None],
        "finish": finish_numbers[:, template["finish"]],
    }
    if (tints.colours != WHITE).any():
        for paint in ("fill", "stroke"):
            columns[paint] = _in_steps(template[paint] * tints.colours[:, None, :].astype(np.float32))
    if (tints.opacities != 1).any():
        columns["opacity"] = template["opacity"] * tints.opacities[:, None]
    marks = recorded.marks
    # Consecutive uses are contiguous in memory, which is several times as fast to fill.
    rows = marks[first : first + count * size].reshape(count, size) if firsts[-1] == first + (count - 1) * size else None
    for name, values in columns.items():
        if values.size <= size and (values == template[name]).all():
            continue  # as it was recorded
        if rows is None:
            marks[name][firsts[:, None] + np.arange(size)] = values
        else:
            rows[name] = values
    scales = np.outer(enlargements(matrices) * stroke_ratios, symbol.stroke_scales)
    return Recorded(
        marks,
        np.concatenate([recorded.views, composed(matrices[:, None, :], symbol.views[None]).reshape(-1, 6)]),
        np.concatenate([recorded.stroke_scales, scales.ravel()]),
        Outlines.of([recorded.outlines, symbol.outlines]),
        (*recorded.groups, *_clips_of(symbol, groups, recorded)),
        finishes,
    )


def _clips_of(symbol: Drawing, groups: WholeArray, recorded: Recorded) -> list[Group]:
    """The clips of all uses of a symbol, in the groups that those are in."""
    clips: list[Group] = []
    if len(symbol.groups) > 1:
        for use, group in enumerate(groups.tolist()):
            before = len(recorded.groups) + len(clips) - 1
            clips += [
                clip._replace(
                    parent=clip.parent + before if clip.parent else group,
                    outline=clip.outline + len(recorded.outlines),
                    view=clip.view + len(recorded.views) + use * len(symbol.views),
                )
                for clip in symbol.groups[1:]
            ]
    return clips


def _finishes_of(
    known: tuple[Finish, ...], own: tuple[Finish, ...], tints: FloatArray
) -> tuple[tuple[Finish, ...], WholeArray]:
    """Finishes with those of a symbol under each tint, and which of them each use has for each of its own: (u, f) or (1, f)."""
    numbers = {finish: number for number, finish in enumerate(known)}
    if any(finish.fill is not None or finish.stroke is not None for finish in own):
        colours, which = np.unique(tints, axis=0, return_inverse=True)
    else:
        colours, which = np.array([WHITE]), np.zeros(1, np.int64)
    rows = [
        [numbers.setdefault(_tinted(finish, Colour(*colour)), len(numbers)) for finish in own] for colour in colours.tolist()
    ]
    return tuple(numbers), np.array(rows)[which.ravel()]


def _tinted(finish: Finish, tint: Colour) -> Finish:
    """A finish with the colours of its ramps and pictures multiplied by another; a shadow keeps its own."""
    if tint == WHITE:
        return finish
    fill, stroke = (_tinted_shade(shade, tint) for shade in (finish.fill, finish.stroke))
    return finish._replace(fill=fill, stroke=stroke)


def _tinted_shade(shade: Ramp | Picture | None, tint: Colour) -> Ramp | Picture | None:
    return shade if shade is None else shade.tinted(tint)


def rounded(marks: RecordArray) -> RecordArray:
    """Marks with their colours as they are kept, in place."""
    for paint in ("fill", "stroke"):
        marks[paint] = _in_steps(marks[paint])
    return marks


def _in_steps(colours: npt.NDArray[np.float32]) -> npt.NDArray[np.float32]:
    """Colours as they are kept."""
    result: npt.NDArray[np.float32] = np.round(colours * _COLOUR_STEPS) / _COLOUR_STEPS  # type: ignore[assignment]  # it stays 32 bits
    return result


def _once(values: WholeArray) -> WholeArray:
    """One value where all are the same, else all of them."""
    return values[:1] if (values == values[0]).all() else values
