"""What palettes tell of colours: the nearest, overprints, ramps with places, and how other readers see them."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

import mothseed
from mothseed import Chance, Colour, Outline, Palette, mixed, radial_ramp, soft_shadow
from mothseed.colour.oklch import from_oklch, oklab_from_srgb, oklch_of
from mothseed.colour.vision import VISIONS, confusions, seen_with
from mothseed.faults import SketchError
from tests.conftest import Run

NIGHT = Palette(["#14213d", "#d9715b", "#e8b44f", "#7d9f86"])


def test_the_nearest_swatch_is_the_one_that_looks_most_alike() -> None:
    colours = np.random.default_rng(2).random((200, 4))
    lab = oklab_from_srgb(np.array([swatch[:3] for swatch in NIGHT]))
    for row, found in zip(colours, NIGHT.nearest(colours), strict=True):
        away = np.sqrt(((oklab_from_srgb(row[:3]) - lab) ** 2).sum(axis=1))
        assert tuple(found) == NIGHT[int(away.argmin())]
        assert NIGHT.nearest(tuple(row.tolist())) == tuple(found)
    assert NIGHT.nearest("gold").css == "#e8b44f"
    with pytest.raises(SketchError, match="not a colour"):
        NIGHT.nearest("moth")


def test_inks_over_each_other_are_multiplied_with_the_paper_first() -> None:
    both = Palette.overprinted(["#ff8080", "#80ffff"], "#f0f0f0")
    assert [swatch.css for swatch in both] == ["#f0f0f0", "#f07878", "#78f0f0", "#787878"]
    assert len(Palette.overprinted(["red", "teal", "gold"])) == 8
    assert Palette.overprinted([Colour(1, 0, 0, 0.5)])[1].css == "#ff8080"
    for inks in ([], ["red"] * 7):
        with pytest.raises(SketchError, match="from one to 6 inks"):
            Palette.overprinted(inks)


@pytest.mark.parametrize("fraction", [0.0, 0.1, 0.35, 0.5, 0.8, 1.0])
def test_a_ramp_with_places_is_even_between_each_two(fraction: float) -> None:
    places = [0.0, 0.1, 0.6, 1.0]
    last = max(number for number, place in enumerate(places) if place <= fraction)
    after = min(last + 1, 3)
    part = (fraction - places[last]) / ((places[after] - places[last]) or 1)
    wanted = mixed(NIGHT[last], NIGHT[after], part)
    assert NIGHT.ramp(fraction, places) == pytest.approx(wanted, abs=1e-9)
    assert NIGHT.ramp(np.array([fraction]), places)[0] == pytest.approx(wanted, abs=4e-3)


@pytest.mark.parametrize("places", [[0, 1], [0, 0.5, 0.4, 1], [0, 0.5, 0.6, 1.5]])
def test_places_of_a_ramp_that_cannot_be_are_refused(places: list[float]) -> None:
    with pytest.raises(SketchError, match=r"places"):
        NIGHT.ramp(0.5, places)


@pytest.mark.parametrize(
    ("one", "other", "middle"), [(350, 30, 10), (30, 350, 10), (100, 200, 150), (10, 180, 95), (200, 30, 115)]
)
def test_hues_turn_the_shorter_way(one: float, other: float, middle: float) -> None:
    found = oklch_of(mixed(from_oklch(0.6, 0.08, one), from_oklch(0.7, 0.06, other), 0.5, space="oklch"))
    assert found == pytest.approx((0.65, 0.07, middle), abs=1e-3)


def test_a_grey_has_the_hue_of_what_it_is_mixed_with() -> None:
    for pair in (("#808080", "#d9715b"), ("#d9715b", "#808080")):
        assert oklch_of(mixed(*pair, 0.5, space="oklch"))[2] == pytest.approx(oklch_of(Colour.parse("#d9715b"))[2], abs=1e-6)
    assert mixed(Colour(1, 0, 0, 0.2), Colour(0, 0, 1, 0.6), 0.5, space="oklch").alpha == pytest.approx(0.4)
    for amount in (0, 1):
        assert mixed("teal", "gold", amount, space="oklch").css == ("#008080", "#ffd700")[amount]


def test_readers_without_some_cones_see_what_was_published() -> None:
    """Greys stay grey; red is dark and yellow without long waves; what is told apart by one kind of cone alone is not."""
    for vision in VISIONS:
        assert seen_with(Colour(0.5, 0.5, 0.5, 0.3), vision) == pytest.approx((0.5, 0.5, 0.5, 0.3), abs=1e-5)
    assert [seen_with(Colour(1, 0, 0), vision).css for vision in VISIONS] == ["#6d5f00", "#a39000", "#ff000f"]
    assert [seen_with(Colour(0, 0, 1), vision).css for vision in VISIONS] == ["#0059ff", "#003dfb", "#006b96"]
    with pytest.raises(SketchError, match="vision must be one of protanopia, deuteranopia, tritanopia"):
        NIGHT.seen_with("blindness")


def test_colours_that_are_not_told_apart_by_all_are_found_and_no_others() -> None:
    moss, brick = from_oklch(0.6, 0.11, 135), from_oklch(0.6, 0.11, 45)
    found = confusions([moss, brick, Colour.parse("#14213d"), Colour.parse("#f4efe4")])
    assert {(each.first, each.second) for each in found} == {(moss, brick)}
    assert {each.vision for each in found} <= {"protanopia", "deuteranopia"}
    assert not confusions([from_oklch(0.3, 0.11, 135), from_oklch(0.8, 0.11, 45)])
    assert not confusions([moss, moss])


def test_the_command_names_what_looks_alike_to_some(tmp_path: Path, run: Run) -> None:
    moss, brick = from_oklch(0.6, 0.11, 135).css, from_oklch(0.6, 0.11, 45).css
    (tmp_path / "pair.txt").write_text(f"{moss}\n{brick}\n#14213d\n")
    said = run("palette", "pair.txt", "--vision", "-o", "pair.png")
    assert said.status == 0
    assert f"{moss} and {brick}" in said.out
    assert "#14213d and" not in said.out
    rows = json.loads(run("palette", "pair.txt", "--vision", "--json").out)["confusions"]
    assert {(row["first"], row["second"]) for row in rows} == {(moss, brick)}
    (tmp_path / "apart.txt").write_text("#14213d\n#f4efe4\n")
    assert "All readers can tell them apart" in run("palette", "apart.txt", "--vision").out


def given(call: Any, *arguments: Any, **named: Any) -> Any:
    """What a call gives, of whatever kind its arguments are."""
    return call(*arguments, **named)


ALSO: list[tuple[Any, Any]] = [
    (lambda: Chance(3).color(hue=20), lambda: Chance(3).colour(hue=20)),
    (lambda: Chance(3).color_near("teal", hue=4), lambda: Chance(3).colour_near("teal", hue=4)),
    (lambda: given(soft_shadow, 2, 3, color="red"), lambda: soft_shadow(2, 3, "red")),
    (
        lambda: given(radial_ramp, center=(3, 4), radius=5, colours=["red", "teal"]),
        lambda: radial_ramp((3, 4), 5, ["red", "teal"]),
    ),
    (lambda: Outline.circle(3, 4, 5).bounds.center, lambda: Outline.circle(3, 4, 5).bounds.centre),
]


@pytest.mark.parametrize(("american", "british"), ALSO)
def test_both_spellings_are_taken(american: Any, british: Any) -> None:
    assert american() == british()
    assert mothseed.__getattr__("Color") is Colour


def test_a_word_given_in_both_spellings_is_told() -> None:
    with pytest.raises(SketchError, match="soft_shadow: color and colour are one thing"):
        given(soft_shadow, 2, 3, color="red", colour="red")


@pytest.mark.parametrize(
    ("make", "hint"),
    [
        (lambda: Chance(1).colour(hue=(350, 10)), "write (350, 370), which passes 360"),
        (lambda: Chance(1).colour(lightness=(0.8, 0.2)), "write the smaller number first"),
        (lambda: Palette("red"), 'write Palette(["red", "#edf2f4"])'),
        (lambda: given(Chance(1).pick, 3), "write whole(1, 6)"),
        (lambda: given(Chance(1).pick, iter("ab")), "write pick(list(items))"),
        (lambda: given(Colour.parse, 3), 'write Colour.parse("teal")'),
        (lambda: given(Chance(1).field, "wide"), "write chance.field(30)"),
        (lambda: given(mixed, "red", "teal", "half"), 'write mixed("navy", "teal", 0.5)'),
    ],
)
def test_what_is_meant_is_told(make: Any, hint: str) -> None:
    with pytest.raises(SketchError) as told:
        make()
    assert hint in told.value.hint
