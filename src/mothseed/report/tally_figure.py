"""Tallies as bars: shares, their confidence intervals, and what the odds promised."""

from __future__ import annotations

from collections.abc import Sequence

from mothseed.report.plot import as_png, figure_on_paper, quiet
from mothseed.report.theme import LIGHT, Theme
from mothseed.study.tally import Tally
from mothseed.told import told

_MOST_BARS = 12
_INCHES_PER_BAR = 0.34
_WIDTH = 10.0
_LONGEST = 26
"""Most characters of a label."""


def tally_figure(tallies: Sequence[Tally], title: str, theme: Theme = LIGHT) -> bytes:
    """A PNG file: for each outcome, bars for its values with 95% intervals, and a stroke at what the odds promise. Values
    that came up significantly more or less often have another colour.
    """
    shown = [tally.counts[:_MOST_BARS] for tally in tallies]
    heights = [max(len(counts), 1) + 1.6 for counts in shown]
    height = sum(heights) * _INCHES_PER_BAR + 1.1
    # One scale for all, so that bars can be compared from panel to panel.
    highs = [max(each.high, each.expected or 0.0) for counts in shown for each in counts]
    farthest = min(max(highs, default=1.0) * 1.08, 1.0)
    words = "bar: share; line: 95% interval; stroke: expected from the odds"
    with figure_on_paper(_WIDTH, height, theme, title, words) as figure:
        grid = figure.add_gridspec(
            len(tallies), 1, height_ratios=heights, hspace=0.55, left=0.24, right=0.93, bottom=0.07, top=1 - 1.0 / height
        )
        for row, (tally, counts) in enumerate(zip(tallies, shown, strict=True)):
            axes = figure.add_subplot(grid[row])
            places = range(len(counts))
            axes.barh(
                places,
                [each.share for each in counts],
                0.62,
                color=[theme.deviating if each.deviates else theme.bar for each in counts],
            )
            axes.hlines(places, [each.low for each in counts], [each.high for each in counts], color=theme.muted, linewidth=1.1)
            for place, each in enumerate(counts):
                if each.expected is not None:
                    axes.vlines(each.expected, place - 0.4, place + 0.4, color=theme.ink, linewidth=2.0)
                axes.annotate(
                    f"{each.count}", (1.0, place), (6, 0), ("axes fraction", "data"),
                    textcoords="offset points", va="center", color=theme.muted, fontsize=10,
                )  # fmt: skip
            axes.set_yticks(places, [_short(each.value) for each in counts], fontsize=11)
            axes.invert_yaxis()
            axes.set_xlim(0, farthest)
            axes.xaxis.set_major_formatter(lambda value, _place: f"{value:.0%}")
            quiet(axes, theme)
            axes.grid(visible=False, axis="y")
            axes.tick_params(axis="y", labelcolor=theme.ink, labelsize=11)
            left_out = len(tally.counts) - len(counts)
            more = f", {left_out} values more" if left_out else ""
            axes.set_title(f"{_short(tally.label)}   of {tally.total:,}{more}", loc="left", fontsize=13, color=theme.ink)
        return as_png(figure)


def _short(value: object) -> str:
    text = told(value)
    return text if len(text) <= _LONGEST else text[: _LONGEST - 1] + "…"
