"""Plots: Matplotlib figures with the paper and type of all other sheets."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from io import BytesIO
from typing import TYPE_CHECKING

from mothseed.report.theme import Theme

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

DPI = 128


@contextmanager
def figure_on_paper(width: float, height: float, theme: Theme, title: str, subtitle: str = "") -> Iterator[Figure]:
    """An empty figure of a size in inches, with its title at the left and a remark at the right."""
    import matplotlib as mpl
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.figure import Figure

    with mpl.rc_context({"font.family": "STIXGeneral", "text.parse_math": False}):
        figure = Figure(figsize=(width, height), facecolor=theme.paper, dpi=DPI)
        FigureCanvasAgg(figure)
        figure.text(0.3 / width, 1 - 0.15 / height, title, ha="left", va="top", fontsize=18, color=theme.ink)
        figure.text(
            1 - 0.3 / width, 1 - 0.22 / height, subtitle, ha="right", va="top", fontsize=10, style="italic", color=theme.muted
        )
        yield figure


def quiet(axes: Axes, theme: Theme) -> None:
    """Remove what is not data: the frame, the ticks."""
    axes.set_facecolor(theme.paper)
    axes.tick_params(length=0, colors=theme.muted, labelsize=9)
    axes.set_axisbelow(True)
    axes.grid(color=theme.hairline, linewidth=0.8)
    for side in axes.spines.values():
        side.set_visible(False)


def as_png(figure: Figure) -> bytes:
    """A PNG file of a figure."""
    buffer = BytesIO()
    figure.savefig(buffer, format="png", facecolor=figure.get_facecolor())
    return buffer.getvalue()
