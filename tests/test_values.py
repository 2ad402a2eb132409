"""What a sketch is handed never changes from outside, and who tries is told what to write instead."""

from __future__ import annotations

import copy
import pickle
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed import Chance, Colour, Palette, Style, Swarm, Trail, linear_ramp, smooth, soft_shadow
from mothseed.colour.placed import Picture
from mothseed.colour.texture import Texture
from mothseed.faults import ChangeError
from mothseed.geometry.affine import Affine
from mothseed.sheet import Sheet
from mothseed.sketch import load_sketch, perform
from tests.conftest import WriteSketch

SHEET = Sheet(60, 40, "mm", Colour(1, 1, 1))
VALUES: list[tuple[Any, str, str]] = [
    (SHEET, "width", "a Sheet never changes, so width cannot be set"),
    (SHEET, "stroke", "a Sheet never changes, so stroke cannot be set"),
    (SHEET.frame(3, 4), "left", "a View never changes"),
    (next(SHEET.grid(2, 2)), "col", "a Cell never changes, so col cannot be set"),
    (next(SHEET.ring(3, 9)), "angle", "a Spotted never changes"),
    (Trail(1, 2).walk(3), "x", "a Trail never changes, so x cannot be set"),
    (Trail(1, 2).outline, "points", "an Outline never changes, so points cannot be set"),
    (Palette(["red", "blue"]), "swatches", "a Palette never changes"),
    (Colour(0.1, 0.2, 0.3), "red", "a Colour never changes, so red cannot be set"),
    (Style.of(fill="teal"), "fill", "a Style never changes, so fill cannot be set"),
    (soft_shadow(1, 2), "blur", "a Shadow never changes"),
    (linear_ramp((0, 0), (9, 9), ["red", "blue"]), "place", "a Ramp never changes"),
    (Affine(), "a", "an Affine never changes, so a cannot be set"),
    (Chance(1).field(20), "scale", "a Field never changes, so scale cannot be set"),
    (Swarm.at([(9, 9)], SHEET), "headings", "a Swarm never changes"),
    (Picture(Texture(np.zeros((2, 3, 4), np.uint8)), (0, 0, 3, 2), (0, 0, 3, 2)), "tint", "a Picture never changes"),
]


@pytest.mark.parametrize(
    ("value", "name", "words"), VALUES, ids=[type(value).__name__ + "." + name for value, name, _ in VALUES]
)
def test_an_attribute_can_be_neither_set_nor_deleted(value: Any, name: str, words: str) -> None:
    before: Any = getattr(value, name, None)
    changes: list[Callable[[], None]] = [lambda: setattr(value, name, 99), lambda: delattr(value, name)]
    for change in changes:
        with pytest.raises(ChangeError) as caught:
            change()
        assert words in caught.value.message
        assert "(" in caught.value.hint, "it says what to call instead"
    assert getattr(value, name, None) is before or bool(np.array_equal(getattr(value, name), before))


@pytest.mark.parametrize(
    "value", [value for value, _, _ in VALUES if not isinstance(value, Sheet)], ids=lambda v: type(v).__name__
)
def test_a_value_can_be_copied(value: Any) -> None:
    assert type(copy.copy(value)) is type(value)


@pytest.mark.parametrize("value", [Trail(1, 2).walk(3), smooth([(0, 0), (4, 5), (9, 2)]), Palette(["red", "blue"])])
def test_a_value_goes_to_another_process_and_stays_fixed_there(value: Any) -> None:
    there = pickle.loads(pickle.dumps(value))
    with pytest.raises(ChangeError):
        there.x = 3


def test_a_sketch_that_sets_an_attribute_is_told_by_its_line(write_sketch: WriteSketch) -> None:
    path = write_sketch("""
        from mothseed import artwork

        @artwork()
        def plate(sheet, chance):
            sheet.width = 99
    """)
    with pytest.raises(ChangeError) as caught:
        perform(load_sketch(path))
    assert caught.value.place is not None
    assert caught.value.place.text == "sheet.width = 99"
    assert "sheet.styled(fill=...)" in caught.value.hint


@given(st.lists(st.tuples(st.sampled_from(["walk", "veer", "leap"]), st.floats(-50, 50)), max_size=12))
def test_going_on_with_a_trail_leaves_it_as_it_was(steps: list[tuple[str, float]]) -> None:
    trail = Trail(3, 4, 30)
    for name, amount in steps:
        before = trail
        kept = (before.x, before.y, before.heading, before.corners, before.outline.points.tolist())
        trail = getattr(trail, name)(amount)
        assert (before.x, before.y, before.heading, before.corners, before.outline.points.tolist()) == kept
