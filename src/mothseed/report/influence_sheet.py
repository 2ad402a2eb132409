"""A sheet that shows which dials matter: a row for each dial and stream, with small pictures of its effect."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image, ImageFilter

from mothseed.colour.oklch import NOTICEABLE
from mothseed.compare.pair import difference_of
from mothseed.report.page import MARGIN, Page, aspect_of, blank, fitted, font, header, opened, thumbnail
from mothseed.report.theme import LIGHT, Theme
from mothseed.study.influence import Experiment, Influence
from mothseed.told import counted

_HEAD, _GAP = 76, 14
_TILE, _LABEL = 132, 26
_NAMES, _BARS, _BETWEEN = 180, 240, 40
_ROWS_IN_ONE_COLUMN = 5
_AROUND, _FADED = 0.012, 0.72
"""How far around a change the picture stays unfaded, in widths of the picture, and how faded it is elsewhere."""
_BAR_HEIGHT = 18


@dataclass(frozen=True, slots=True)
class _Row:
    """A dial or stream: its name, its effect, and pictures of that."""

    name: str
    kind: str
    effect: float
    words: str
    tiles: tuple[tuple[str, Path | None], ...]
    """labels, each with its picture, or None if that failed"""


def influence_sheet(influences: Sequence[Influence], experiment: Experiment, theme: Theme = LIGHT) -> Image.Image:
    """The results of an experiment, in order: bars as long as the effects, and beside them pictures of the first seed."""
    seed, seeds = experiment.seeds[0], len(experiment.seeds)
    rows = [_row(influence, experiment) for influence in influences]
    subtitle = f"seed {seed}; what is unchanged is faded; bars: mean change over {counted(seeds, 'seed')}"
    return _sheet(rows, experiment.base_picture(seed), f"what matters in {experiment.sketch.name}", subtitle, theme)


def _row(influence: Influence, experiment: Experiment) -> _Row:
    knob, seed = influence.knob, experiment.seeds[0]
    tiles = []
    for number, (setting, trial) in enumerate(zip(knob.settings, influence.trials, strict=True)):
        picture = None if trial.failed else experiment.picture(knob, number, seed)
        tiles.append((setting.label.removeprefix(f"{knob.name} "), picture))
    words = f"{influence.effect:.3f}; {influence.noticeable:.0%} seen to differ" if influence.effect else "changes nothing"
    return _Row(knob.name, knob.kind, influence.effect, words, tuple(tiles))


def _sheet(rows: Sequence[_Row], base: Path, title: str, subtitle: str, theme: Theme) -> Image.Image:
    """The rows in order, with bars as long as their effects and pictures beside them; the unchanged picture at the upper
    left.
    """
    aspect = aspect_of(base)
    tile = (_TILE, round(_TILE * aspect)) if aspect <= 1.4 else (round(_TILE * 1.4 / aspect), round(_TILE * 1.4))
    most = max((len(row.tiles) for row in rows), default=1)
    columns = 1 if len(rows) <= _ROWS_IN_ONE_COLUMN else 2
    in_column = max(-(-len(rows) // columns), 1)
    begin = MARGIN + _TILE + 3 * _GAP
    column_width = _NAMES + _BARS + 2 * _GAP + most * (tile[0] + _GAP)
    row_height = tile[1] + _LABEL + _GAP
    top = MARGIN + _HEAD
    page_width = begin + columns * (column_width + _BETWEEN) - _BETWEEN - _GAP + MARGIN
    page = blank(page_width, top + in_column * row_height + MARGIN // 2, theme)
    draw = page.draw
    header(page, title, subtitle)
    _paste(page, base, (MARGIN, top), tile, "as it is")
    longest = max((row.effect for row in rows), default=0.0) or 1.0
    for number, row in enumerate(rows):
        left = begin + number // in_column * (column_width + _BETWEEN)
        tiles_left = left + _NAMES + _BARS + 2 * _GAP
        y = top + number % in_column * row_height
        draw.text((left, y), fitted(draw, row.name, font(28), _NAMES), fill=theme.ink, font=font(28))
        draw.text((left, y + 36), row.kind, fill=theme.muted, font=font(20, italic=True))
        x = left + _NAMES + _GAP
        length = round((_BARS - 2 * _GAP) * row.effect / longest)
        draw.rectangle((x, y + 10, x + max(length, 1), y + 10 + _BAR_HEIGHT), fill=theme.bar if length else theme.hairline)
        draw.text((x, y + 36), fitted(draw, row.words, font(18), _BARS - _GAP), fill=theme.muted, font=font(18))
        for place, (label, file) in enumerate(row.tiles):
            _paste(page, file, (tiles_left + place * (tile[0] + _GAP), y), tile, label, base)
    return page.image


def changed_part(file: Path, base: Path, theme: Theme = LIGHT) -> Image.Image:
    """A picture in which everything is faded but what visibly differs from another one, so that a small change is easy to
    find.
    """
    picture = opened(file)
    off = difference_of(np.asarray(picture), np.asarray(opened(base).resize(picture.size)))
    seen = Image.fromarray(np.where(off >= NOTICEABLE, 255, 0).astype(np.uint8))
    # Slightly more than what changed, with soft edges.
    around = max(round(picture.width * _AROUND), 1)
    mask = seen.filter(ImageFilter.MaxFilter(2 * around + 1)).filter(ImageFilter.GaussianBlur(around))
    faded = Image.blend(picture, Image.new("RGB", picture.size, theme.paper), _FADED)
    return Image.composite(picture, faded, mask)


def _paste(
    page: Page,
    file: Path | None,
    place: tuple[int, int],
    tile: tuple[int, int],
    label: str,
    base: Path | None = None,
) -> None:
    """A picture with its label below; given a `base`, what is the same there is faded."""
    draw, theme, (x, y) = page.draw, page.theme, place
    if file is None:
        draw.rectangle((x, y, x + tile[0] - 1, y + tile[1] - 1), outline=theme.hairline)
        draw.text((x + tile[0] / 2, y + tile[1] / 2), "failed", fill=theme.muted, font=font(18, italic=True), anchor="mm")
    else:
        image = thumbnail(file, tile) if base is None else changed_part(file, base, theme)
        image.thumbnail(tile, Image.Resampling.LANCZOS)
        page.image.paste(image, (x, y))
    draw.text((x, y + tile[1] + 1), fitted(draw, label, font(18), tile[0] + _GAP - 4), fill=theme.ink, font=font(18))
