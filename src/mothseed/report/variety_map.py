"""A series as a map, with look-alikes close together."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from pathlib import Path

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.processors import on_all_processors
from mothseed.report.page import thumbnail
from mothseed.report.plot import DPI, as_png, figure_on_paper, quiet
from mothseed.report.theme import LIGHT, Theme
from mothseed.series import Edition
from mothseed.series.edition import Key
from mothseed.study.choice import varied_first
from mothseed.study.distinctions import LEAST_SHARE, Direction
from mothseed.study.neighbours import looked_at
from mothseed.study.variety import Variety
from mothseed.told import counted

GROUP_COLOURS = ("#6f5aa8", "#c9762b", "#3d8a72", "#b8487a", "#3f77b4", "#8a8a3a", "#7c5644", "#5a6472")
"""Colours of groups."""
_WIDTH, _HEIGHT = 12.0, 8.2
_LEFT, _RIGHT, _BOTTOM, _TOP = 0.06, 0.98, 0.1, 0.9
_ROOM = 0.3
"""Largest share of the map that pictures may cover."""
_SMALLEST, _LARGEST = 76, 180
_CAPTION = 10
"""Height in pixels of the caption above a picture."""
_FEW_DOTS = 1000
"""Up to so many editions dots are large; of more they are smaller and fainter, so that density shows."""
_MOST_WORDS = 2
"""Most measures named beside an axis."""


_MOST_PICTURES = 300
"""More than fit on a map."""


def variety_map(
    found: Variety, editions: Sequence[Edition], with_picture: Collection[Key], folder: Path, name: str, theme: Theme = LIGHT
) -> bytes | None:
    """A PNG file: the map of a series, with those of its pictures that can be shown; None if there are none."""
    groups = {index: number for number, group in enumerate(found.groups) for index in group.members}
    # Varied ones get room on the map first, so that all variety is seen.
    rows = looked_at(len(editions))
    first = rows[varied_first(found.aspects.places[rows], _MOST_PICTURES)].tolist()
    rest = sorted(set(range(len(editions))) - set(first))
    order = [index for index in (*first, *rest) if editions[index].key in with_picture]
    if not order:
        return None
    return _map(
        found.places[order],
        [folder / editions[index].file for index in order],
        [groups.get(index, -1) for index in order],
        [editions[index].title for index in order],
        found.axes,
        theme,
        f"{name}: {counted(len(editions), 'edition')}{_kinds(found) if len(editions) > 1 else ''}",
    )


def _map(
    places: FloatArray,
    files: Sequence[Path],
    groups: Sequence[int],
    titles: Sequence[str],
    axes: Sequence[Direction],
    theme: Theme,
    title: str,
) -> bytes:
    """A PNG file: at each of the places, float64 (n, 2), a picture if there is room, otherwise a dot.

    Room is given to `files` in order; `groups` has the group of each, or -1.
    """
    from matplotlib.offsetbox import AnnotationBbox, OffsetImage
    from matplotlib.patheffects import withStroke

    with figure_on_paper(_WIDTH, _HEIGHT, theme, title, "look-alikes lie close together") as figure:
        plot = figure.add_axes((_LEFT, _BOTTOM, _RIGHT - _LEFT, _TOP - _BOTTOM))
        quiet(plot, theme)
        plot.grid(visible=False)
        shades = [theme.data(css) for css in GROUP_COLOURS]
        colours = [shades[group % len(shades)] if group >= 0 else theme.muted for group in groups]
        spans = np.maximum(np.ptp(places, axis=0), 1e-9)
        room = np.array([(_RIGHT - _LEFT) * _WIDTH * DPI, (_TOP - _BOTTOM) * _HEIGHT * DPI])
        size = float(np.clip(np.sqrt(_ROOM * room.prod() / len(files)), _SMALLEST, _LARGEST))
        # The map extends by half a picture and its caption beyond the outermost places.
        edge = spans * (size * 0.62 + _CAPTION) / (room - 2 * (size * 0.62 + _CAPTION))
        low, high = places.min(axis=0) - edge, places.max(axis=0) + edge
        plot.set_xlim(low[0], high[0])
        plot.set_ylim(low[1], high[1])
        crowd = max(len(places) / _FEW_DOTS, 1.0)
        plot.scatter(places[:, 0], places[:, 1], s=max(14 / crowd, 2), c=colours, linewidths=0, alpha=crowd**-0.25)
        pixels = (places - low) / (high - low) * room
        shown = _with_room(pixels, size * 1.08)
        images = on_all_processors(lambda index: thumbnail(files[index], (round(size), round(size))), shown)
        for index, image in zip(shown, images, strict=True):
            frame = {
                "edgecolor": colours[index],
                "linewidth": 1.6 if groups[index] >= 0 else 0.6,
                "facecolor": theme.paper,
            }
            box = AnnotationBbox(OffsetImage(np.asarray(image), zoom=72 / DPI), tuple(places[index]), pad=0.1, bboxprops=frame)
            plot.add_artist(box)
            offset = (-image.width / 2 * 72 / DPI, image.height / 2 * 72 / DPI + 2)
            caption = plot.annotate(titles[index], tuple(places[index]), offset, textcoords="offset points", fontsize=6.5)
            caption.set(color=theme.ink, path_effects=[withStroke(linewidth=2.5, foreground=theme.paper)])
        plot.set_xticklabels([])
        plot.set_yticklabels([])
        plot.set_xlabel(_explained(axes[0]), fontsize=11, color=theme.ink)
        plot.set_ylabel(_explained(axes[1]), fontsize=11, color=theme.ink)
        return as_png(figure)


def _with_room(pixels: FloatArray, size: float) -> list[int]:
    """Indices of those with room for a square of that size; earlier ones take precedence."""
    chosen: list[int] = []
    for index, place in enumerate(pixels):
        if not chosen or (np.abs(pixels[chosen] - place).max(axis=1) >= size).all():
            chosen.append(index)
    return chosen


def _kinds(found: Variety) -> str:
    kinds = counted(round(found.score), "kind")
    return f", more than {kinds}" if found.no_two_alike else f", as varied as {kinds}"


def _explained(axis: Direction) -> str:
    """What varies along an axis, with an arrow that points along it; empty if nothing does."""
    if axis.share < LEAST_SHARE:
        return ""
    words = ", ".join(axis.words[:_MOST_WORDS]).replace("_", " ") if axis.words else "no single measure"
    return f"{words}  →   ({axis.share:.0%} of the variation)"
