"""A picture without some of its marks is the picture of all others."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest

from mothseed.colour import Colour
from mothseed.render import Painted, rendered
from mothseed.sheet import Drawing, Sheet
from tests.page import page_of_everything

WIDTH = 320


def hidden_by_turns() -> Drawing:
    """Solid shapes over one another, so that what is left out shows what it hid."""
    sheet = Sheet(160, 90, "mm", Colour(1, 1, 1))
    for number in range(24):
        sheet.rect(-5 + 6 * (number % 4), -5, 130, 110, fill=f"hsl({15 * number} 60% 40%)")
        sheet.circle(7 * number, 45, 20, fill="gold", stroke="navy", opacity=0.6)
    return sheet.drawing()


def mirrored_and_spun() -> Drawing:
    """Images that are painted as one."""
    sheet = Sheet(160, 90, "mm", Colour(0, 0, 0, 0))
    sheet.frame(80, 45).spun(6).polygon([(0, 0), (40, 0), (40, 23)], fill="teal")
    sheet.frame(40, 40).mirrored().polygon([(0, -30), (30, 0), (0, 30)], fill="maroon", opacity=0.5)
    return sheet.drawing()


def layered() -> Drawing:
    """Layers of circles, which have no outlines."""
    sheet = Sheet(160, 90, "mm", Colour(1, 1, 1))
    for number, blend in enumerate(("multiply", "screen", "normal")):
        layer = sheet.layer(blend, opacity=0.7, blend=blend)
        layer.circle(50 + 20 * number, 45, 30, fill="tomato")
        sheet.circle(60 + 20 * number, 30, 12, fill="#3a4a63")
    return sheet.drawing()


@pytest.mark.parametrize("make", [lambda: page_of_everything().drawing(), hidden_by_turns, mirrored_and_spun, layered])
@pytest.mark.parametrize("most_at_once", [1_000_000, 5])
def test_it_is_that_of_all_other_marks(make: Callable[[], Drawing], most_at_once: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("mothseed.render.painted.MOST_AT_ONCE", most_at_once)
    drawing = make()
    painted, random = Painted(drawing, WIDTH), np.random.default_rng(3)
    assert np.array_equal(painted.pixels, rendered(drawing, WIDTH))
    some = [random.choice(len(drawing), random.integers(1, len(drawing)), replace=False) for _ in range(12)]
    for marks in [*np.arange(len(drawing))[:, None], *some, np.arange(len(drawing)), np.zeros(0, np.int64)]:
        stays = ~np.isin(np.arange(len(drawing)), marks)
        expected = rendered(drawing.part(stays), WIDTH)
        assert np.array_equal(painted.without(marks), expected), marks
        for pixels in painted.gradually_without(marks):
            assert ((pixels == painted.pixels) | (pixels == expected)).all(), "painted either with them or without"
