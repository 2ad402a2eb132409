from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from mothseed.chance import Chance
from mothseed.colour import Colour, Palette
from mothseed.colour.cluster import k_means
from mothseed.colour.oklch import from_oklch, mixed, oklab_from_srgb, srgb_from_oklab
from mothseed.colour.picture import watching_pictures
from mothseed.colour.value import as_colour
from mothseed.errors import PictureError, SketchError

PARTS = st.floats(0, 1)
DEMO = Path(__file__).parents[1] / "src" / "mothseed" / "demo"


@pytest.mark.parametrize(
    ("text", "css"),
    [
        ("#F4EFE4", "#f4efe4"),
        ("#abc", "#aabbcc"),
        ("#11223344", "#11223344"),
        ("teal", "#008080"),
        ("rgb(20 30 40 / 50%)", "#141e2880"),
        ("hsl(120 100% 50%)", "#00ff00"),
        ("oklch(70% 0.1 140)", "#7dae72"),
        ("transparent", "#00000000"),
    ],
)
def test_css_colour_strings_are_understood(text: str, css: str) -> None:
    assert Colour.parse(text).css == css


@pytest.mark.parametrize("given_colour", ["reddish", "", "#12345", "#ggg", 7, None, (1, 2, 3), (0.1, 0.2), ["a", "b", "c"]])
def test_what_is_no_colour_is_refused_in_words(given_colour: Any) -> None:
    with pytest.raises(SketchError, match=r"colour"):
        as_colour(given_colour)


@given(PARTS, PARTS, PARTS)
def test_css_and_back_is_within_half_a_level(red: float, green: float, blue: float) -> None:
    again = Colour.parse(Colour(red, green, blue).css)
    assert np.abs(np.subtract(again, (red, green, blue, 1))).max() <= 0.5 / 255 + 1e-12


@given(PARTS, PARTS, PARTS)
def test_oklab_and_back_is_the_same_colour(red: float, green: float, blue: float) -> None:
    srgb = np.array([red, green, blue])
    assert np.allclose(srgb_from_oklab(oklab_from_srgb(srgb)), srgb, atol=1e-6)


def test_oklab_has_the_published_values() -> None:
    """From the table of CSS Color 4's sample conversions: red and blue, to three digits."""
    assert oklab_from_srgb(np.array([1.0, 0, 0])) == pytest.approx([0.628, 0.225, 0.126], abs=5e-4)
    assert oklab_from_srgb(np.array([0, 0, 1.0])) == pytest.approx([0.452, -0.032, -0.312], abs=5e-4)


@given(PARTS, st.floats(0, 0.5), st.floats(-360, 720))
def test_a_colour_beyond_the_screen_keeps_its_lightness_and_hue(lightness: float, chroma: float, hue: float) -> None:
    colour = from_oklch(lightness, chroma, hue)
    assert all(0 <= part <= 1 for part in colour)
    lab = oklab_from_srgb(np.array(colour[:3]))
    assert lab[0] == pytest.approx(lightness, abs=0.021), "clipping may take what is just not noticeable"


def test_mixing_passes_from_one_end_to_the_other() -> None:
    first, second = Colour.parse("#102040"), Colour.parse("#f0c08080")
    assert mixed(first, second, -1) == mixed(first, second, 0) == first
    assert mixed(first, second, 2) == mixed(first, second, 1) == second
    lightness = [oklab_from_srgb(np.array(mixed(first, second, t / 10)[:3]))[0] for t in range(11)]
    assert lightness == sorted(lightness)
    assert mixed(first, second, 0.5).alpha == pytest.approx((1 + 128 / 255) / 2)


def test_a_palette_cycles_ramps_and_picks() -> None:
    palette = Palette(["#000000", "#808080", "#ffffff"])
    assert [palette.cycle(index).css for index in (0, 4, -1)] == ["#000000", "#808080", "#ffffff"]
    assert [palette.ramp(t).css for t in (-3, 0, 0.5, 1, 9)] == ["#000000", "#000000", "#808080", "#ffffff", "#ffffff"]
    assert {palette.pick(Chance(n)) for n in range(60)} == set(palette)
    assert Palette(["teal"]).ramp(0.7).css == "#008080"
    with pytest.raises(SketchError, match="at least one colour"):
        Palette([])
    with pytest.raises(SketchError, match="not a number"):
        palette.ramp(float("nan"))
    with pytest.raises(AttributeError, match="never changes"):
        palette.swatches = ()


def test_the_palettes_of_the_demo_pictures_never_change() -> None:
    assert [swatch.css for swatch in Palette.from_picture(DEMO / "dusk.png", count=5)] == DUSK
    assert [swatch.css for swatch in Palette.from_picture(DEMO / "lichen.png", count=5)] == LICHEN


DUSK = ["#211f40", "#503f64", "#966072", "#d68a6d", "#f2b877"]
LICHEN = ["#616464", "#b16635", "#889570", "#bbb376", "#d1d5b7"]


@given(st.lists(st.tuples(*[st.integers(0, 255)] * 3), min_size=1, max_size=6, unique=True), st.integers(1, 12))
def test_a_picture_of_few_colours_gives_them_and_their_shares(colours: list[tuple[int, int, int]], count: int) -> None:
    pixels = np.array([[(*colour, 255)] * 4 for colour in colours], np.uint8)
    clusters = k_means(pixels, count)
    assert 1 <= len(clusters.srgb) <= min(count, len(colours))
    assert clusters.shares.sum() == pytest.approx(1)
    if len({tuple(part >> 3 for part in colour) for colour in colours}) == len(colours) <= count:
        # Colours that differ by more than a box of eight levels are all told apart.
        found = {tuple(np.round(srgb * 255).astype(int).tolist()) for srgb in clusters.srgb}
        assert found == set(colours)


def test_pixels_that_are_mostly_transparent_do_not_count() -> None:
    pixels = np.array([[(255, 0, 0, 20), (0, 0, 255, 255)]], np.uint8)
    assert np.round(k_means(pixels, 4).srgb * 255).tolist() == [[0, 0, 255]]
    assert len(k_means(np.zeros((3, 3, 4), np.uint8), 4).srgb) == 0


def test_pictures_of_every_kind_are_read(tmp_path: Path) -> None:
    ground = Image.new("RGB", (8, 6), "#336699")
    for mode, name in (
        ("L", "grey.png"),
        ("P", "few.gif"),
        ("CMYK", "print.jpg"),
        ("RGBA", "clear.webp"),
        ("I;16", "deep.png"),
    ):
        ground.convert("I" if mode == "I;16" else mode).convert(mode).save(tmp_path / name)
        assert len(Palette.from_picture(tmp_path / name, count=3)) == 1


def test_a_picture_that_was_saved_anew_gives_its_new_colours(tmp_path: Path) -> None:
    path = tmp_path / "one.png"
    Image.new("RGB", (4, 4), "#ff0000").save(path)
    before = Palette.from_picture(path)
    Image.new("RGB", (5, 5), "#0000ff").save(path)
    assert (before[0].css, Palette.from_picture(path)[0].css) == ("#ff0000", "#0000ff")


def test_whoever_watches_learns_of_pictures_that_are_kept_from_before() -> None:
    for _ in range(2):
        with watching_pictures() as paths:
            Palette.from_picture(DEMO / "dusk.png")
        assert paths == {DEMO / "dusk.png"}


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda path: None, "there is no picture"),
        (lambda path: path.mkdir(), "is a folder"),
        (lambda path: path.write_text("no picture at all"), "is not a picture"),
        (lambda path: path.write_bytes((DEMO / "dusk.png").read_bytes()[:5000]), "is damaged"),
        (lambda path: path.write_bytes(b""), "is not a picture"),
        (lambda path: Image.new("RGBA", (4, 4)).save(path), "fully transparent"),
    ],
)
def test_a_picture_that_cannot_be_read_is_told_in_words(tmp_path: Path, make: Any, words: str) -> None:
    path = tmp_path / "x.png"
    make(path)
    with pytest.raises(PictureError, match=words):
        Palette.from_picture(path)


@pytest.mark.parametrize("count", [0, 65, 2.5, "six"])
def test_a_palette_of_a_senseless_size_is_refused(count: Any) -> None:
    with pytest.raises(SketchError, match="count is a whole number from 1 to 64"):
        Palette.from_picture(DEMO / "dusk.png", count=count)
