"""What changed, shape by shape, drawn over the later picture."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace

import numpy as np
from PIL import Image

from mothseed.arrays import ByteArray, WholeArray
from mothseed.colour import Colour
from mothseed.compare import CHANGES, ShapeChanges
from mothseed.measure.reduced import on_white
from mothseed.render import rendered
from mothseed.report.theme import LIGHT, Theme
from mothseed.sheet import Drawing, Sheet
from mothseed.sheet.derive import CLEAR, outlined

CHANGE_COLOURS = {
    "added": "#2f8f57",
    "removed": "#c8392f",
    "moved": "#2f6fb7",
    "turned": "#7b4fb0",
    "resized": "#c9761b",
    "reshaped": "#1f8f97",
    "recoloured": "#c23f86",
    "restyled": "#6b6f3a",
    "repainted": "#a8558f",
    "reordered": "#5a4a42",
}
"""A colour for each kind of change."""
_FADED, _HALF_FADED = 0.72, 0.5
"""How far the picture is faded, so that what is drawn over it stands out."""
_STROKE = 1.6
_MANY = 400
"""From so many changed marks on, outlines are thinner, so that marks can still be told apart."""
_LEAST_WAY, _MOST_WAYS = 6.0, 1000
"""How many pixels a mark must have moved for a line to show its path, and how many such lines there are at most."""


def changed_picture(changes: ShapeChanges, image: ByteArray, theme: Theme = LIGHT) -> Image.Image:
    """The later picture, uint8 (height, width, 3), faded, with the outlines of what changed in the colours of CHANGE_COLOURS.

    A mark that changed in several ways has the colour of the rarest. Removed marks are drawn where they were, and a line
    leads from the old place of a mark to the new one.
    """
    return _laid_on(_layers(changes, image.shape[1], theme), image, _FADED, theme)


def picture_around(drawing: Drawing, marks: Sequence[int], image: ByteArray, theme: Theme = LIGHT) -> Image.Image:
    """A picture, uint8 (height, width, 3 or 4), turned grey and slightly faded, with some of its marks outlined."""
    pixel = drawing.width / image.shape[1]
    names = ["removed"] * len(marks)
    stroke = (_STROKE if len(marks) < _MANY else 0.7) * pixel
    layer = _outlined(drawing, np.array(marks, np.int64), names, stroke, theme)
    return _laid_on([layer], on_white(image), _HALF_FADED, theme)


def _laid_on(layers: Iterable[Drawing], image: ByteArray, faded: float, theme: Theme) -> Image.Image:
    ground = Image.new("RGB", image.shape[1::-1], theme.paper)
    base = Image.blend(Image.fromarray(image).convert("L").convert("RGB"), ground, faded)
    for layer in layers:
        drawn = Image.fromarray(rendered(layer, image.shape[1])).convert("RGBA")
        base.paste(drawn.convert("RGB"), (0, 0), drawn.getchannel("A").crop((0, 0, *base.size)))
    return base


def _layers(changes: ShapeChanges, width: int, theme: Theme) -> Iterator[Drawing]:
    second = changes.second
    pixel = second.width / width
    count = len(changes.pairs) + len(changes.added) + len(changes.removed)
    stroke = _STROKE * pixel if count < _MANY else 0.7 * pixel
    names = _rarest(changes)
    if len(changes.removed):
        first = replace(changes.first, width=second.width, height=second.height)
        yield _outlined(first, changes.removed, ["removed"] * len(changes.removed), stroke, theme)
    moved = changes.changes[:, CHANGES.index("moved")]
    if moved.any():
        yield _ways(changes, changes.pairs[moved], stroke, theme)
    yield _outlined(second, changes.pairs[:, 1], names, stroke, theme)
    if len(changes.added):
        yield _outlined(second, changes.added, ["added"] * len(changes.added), stroke, theme)


def _rarest(changes: ShapeChanges) -> list[str]:
    """For each changed mark, the rarest of its changes, which says most."""
    order = np.argsort(changes.changes.sum(axis=0), kind="stable")
    first = changes.changes[:, order].argmax(axis=1)
    return [CHANGES[order[place]] for place in first]


def _outlined(drawing: Drawing, marks: WholeArray, names: list[str], stroke: float, theme: Theme) -> Drawing:
    """Those marks alone, outlined in the colours of their changes, on transparent paper."""
    colours = np.array([Colour.parse(theme.data(CHANGE_COLOURS[name])) for name in names], np.float64).reshape(-1, 4)
    return outlined(drawing, marks, colours, stroke)


def _ways(changes: ShapeChanges, pairs: WholeArray, stroke: float, theme: Theme) -> Drawing:
    """Lines from the old places of marks to the new ones; an even selection if there are very many."""
    before, after = changes.centres[0][pairs[:, 0]], changes.centres[1][pairs[:, 1]]
    far = np.flatnonzero(np.hypot(*(after - before).T) > _LEAST_WAY * stroke / _STROKE)
    far = far[:: max(len(far) // _MOST_WAYS, 1)]
    second = changes.second
    sheet = Sheet(second.width, second.height, second.unit, CLEAR)
    sheet.lines(
        *before[far].T, *after[far].T, stroke=theme.data(CHANGE_COLOURS["moved"]), stroke_width=0.6 * stroke, opacity=0.6
    )
    return sheet.drawing()
