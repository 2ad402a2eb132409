from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.colour import Colour
from mothseed.faults import SketchError
from mothseed.sheet import Sheet
from mothseed.sheet.record import MARK, TAIL_BEGINS
from mothseed.sheet.style import LINECAPS, LINEJOINS, Style, repainted

COLOURS = st.none() | st.builds(Colour, *[st.floats(0, 1)] * 4) | st.sampled_from(["teal", "#1b2a41", "rgb(1 2 3 / 50%)"])
PAINTS = st.fixed_dictionaries(
    {},
    optional={
        "fill": COLOURS,
        "stroke": COLOURS,
        "stroke_width": st.floats(0, 1e6) | st.integers(0, 9),
        "opacity": st.floats(0, 1) | st.integers(0, 1),
        "linecap": st.sampled_from(LINECAPS),
        "linejoin": st.sampled_from(LINEJOINS),
    },
)


@given(PAINTS, PAINTS)
def test_a_patched_record_is_that_of_the_changed_style(first: dict[str, Any], second: dict[str, Any]) -> None:
    style = Style().but(first)
    patched, whole = repainted(style.packed(0), second), style.but(second).packed(0)
    assert patched is not None
    one, two = (np.frombuffer(bytes(TAIL_BEGINS) + bytes(tail), MARK)[0] for tail in (patched, whole))
    assert one["painted"] == two["painted"]
    for name, flag in (("fill", 1), ("stroke", 2)):
        # What is not painted has no colour that would matter.
        assert not one["painted"] & flag or one[name].tolist() == two[name].tolist()
    for name in ("stroke_width", "opacity", "linecap", "linejoin"):
        assert one[name] == two[name]


def test_a_style_can_be_named_and_shared() -> None:
    ink = Style.of(fill=None, stroke="#22203a", stroke_width=2)
    sheet = Sheet(10, 10, "mm", Colour(1, 1, 1))
    sheet.styled(fill="red", opacity=0.5).styled(ink, stroke_width=3).circle(5, 5, 2)
    mark = sheet.drawing().marks[0]
    assert (mark["painted"], mark["stroke_width"], mark["opacity"]) == (2, 3, 1)
    nonsense: Any = "red"
    with pytest.raises(SketchError, match="a Style is needed"):
        sheet.styled(nonsense)


@given(PAINTS)
def test_changing_a_style_changes_nothing_else_and_not_the_style_itself(paint: dict[str, Any]) -> None:
    style = Style()
    changed = style.but(paint)
    assert style == Style()
    assert all(getattr(changed, name) == getattr(style, name) for name in Style._fields if name not in paint)


@pytest.mark.parametrize("patch", [lambda p: repainted(Style().packed(0), p), lambda p: Style().but(p)])
@pytest.mark.parametrize(
    ("paint", "words"),
    [
        ({"fill": "nope"}, "fill: 'nope' is not a colour"),
        ({"stroke": 3}, "stroke: a colour is"),
        ({"stroke_width": float("nan")}, "stroke_width must be a length"),
        ({"stroke_width": "2"}, "stroke_width must be a length"),
        ({"opacity": -0.1}, "opacity must be a number from 0"),
        ({"opacity": np.array([0.5, 0.6])}, "opacity must be a number from 0"),
        ({"linejoin": "mitre"}, "linejoin must be one of miter, round, bevel"),
        ({"colour": "red"}, "colour= is not a paint"),
    ],
)
def test_both_refuse_the_same_in_the_same_words(patch: Any, paint: dict[str, Any], words: str) -> None:
    with pytest.raises(SketchError) as caught:
        patch(paint)
    assert words in caught.value.message
