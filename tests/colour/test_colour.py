from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from coloraide import Color
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from PIL.ImageColor import colormap

from mothseed.arrays import FloatArray
from mothseed.chance import Chance
from mothseed.colour import Colour, Palette, contrast, contrasted, legible
from mothseed.colour.oklch import from_oklch, mixed, oklab_from_srgb, oklch_of, srgb_from_oklab
from mothseed.colour.palette import HARMONIES
from mothseed.colour.ramp import linear_ramp, ramp_table, ramp_tables
from mothseed.colour.value import as_colour
from mothseed.colour.ways import WAYS, closest_k_means, k_means
from mothseed.colour.ways.clusters import gathered
from mothseed.faults import PictureError, SketchError
from mothseed.kernels.tile_sizes import RAMP_STEPS
from mothseed.reading import Reading, reading_by
from tests.places import DEMO

PARTS = st.floats(0, 1)


@pytest.mark.parametrize("name", sorted({*colormap, "transparent"}))
def test_a_name_is_the_colour_that_the_library_says(name: str) -> None:
    known = Color(name).convert("srgb")
    for written in (name, name.upper(), name.title()):
        assert tuple(Colour.parse(written)) == (*known.coords(), known.alpha())


@given(st.text("0123456789abcdefABCDEF", min_size=3, max_size=8).filter(lambda digits: len(digits) in (3, 4, 6, 8)))
def test_hexadecimal_colours_are_those_that_the_library_says(digits: str) -> None:
    known = Color(f"#{digits}").convert("srgb")
    parsed = tuple(Colour.parse(f"#{digits}"))
    if len(digits) <= 4:
        assert parsed == (*known.coords(), known.alpha())
    assert parsed == pytest.approx((*known.coords(), known.alpha()), abs=1e-15)


@pytest.mark.parametrize(
    "text", [" teal", "teal ", "teall", "#12", "#12345", "#xyz", "#1234567", "#\u0661\u0662\u0663", "mo th"]
)
def test_what_only_looks_like_a_name_or_digits_is_none(text: str) -> None:
    with pytest.raises(SketchError, match="is not a colour that CSS knows"):
        Colour.parse(text)


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


@given(st.floats(0.05, 1), st.floats(0, 0.5), st.floats(0, 360))
def test_without_clipping_lightness_and_hue_stay_as_they_are(lightness: float, chroma: float, hue: float) -> None:
    found, left, angle = oklch_of(from_oklch(lightness, chroma, hue, clip=False))
    assert found == pytest.approx(lightness, abs=1e-4)
    assert left <= chroma + 1e-4
    if left > 0.01:
        assert abs((angle - hue + 180) % 360 - 180) < 0.1


def test_a_vivid_white_is_white_and_a_colour_of_the_screen_is_itself() -> None:
    assert from_oklch(1, 0.1, 200, clip=False).css == Colour.parse("oklch(1 0.1 200)").css == "#ffffff"
    assert from_oklch(0, 0.1, 200, clip=False).css == "#000000"
    assert from_oklch(0.7, 0.1, 140, clip=False) == from_oklch(0.7, 0.1, 140)
    assert from_oklch(1, 0.1, 200).css == "#e6ffff", "as it always was"
    for text in ("#ff0000", "#00ff00", "#ffff00", "#00ffff"):
        assert from_oklch(*oklch_of(Colour.parse(text)), clip=False).css == text, "the corners of what a screen shows"


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


def test_arrays_of_numbers_give_the_colours_that_single_ones_do() -> None:
    palette = Palette(["#14213d", "#d9715b80", "#e8b44f"])
    fractions = np.array([-1, 0, 0.25, 0.5, 0.9, 1, 3])
    assert palette.ramp(fractions) == pytest.approx(np.array([palette.ramp(f) for f in fractions.tolist()]), abs=2e-3)
    numbers = np.array([0, 4, -1])
    assert palette.cycle(numbers).tolist() == [list(palette.cycle(n)) for n in numbers.tolist()]


def test_a_palette_is_sorted_limited_and_merged() -> None:
    palette = Palette(["#e8b44f", "#14213d", "#15223e", "#d9715b"], [4, 1, 2, 3])
    assert palette.shares == (0.4, 0.1, 0.2, 0.3)
    assert [s.css for s in palette.sorted()] == ["#14213d", "#15223e", "#d9715b", "#e8b44f"]
    assert [s.css for s in palette.sorted("share", descending=True)] == ["#e8b44f", "#d9715b", "#15223e", "#14213d"]
    assert next(s.css for s in palette.sorted("hue")) == "#d9715b"
    assert palette.limited(2).shares == pytest.approx((4 / 7, 3 / 7))
    merged = palette.merged()
    assert [s.css for s in merged] == ["#e8b44f", "#15223e", "#d9715b"]
    assert merged.shares == pytest.approx((0.4, 0.3, 0.3))
    assert len(palette.merged(2)) == 1
    assert len(palette.merged(0)) == 4


def test_a_weighted_pick_follows_the_shares() -> None:
    palette = Palette(["black", "white"], [9, 1])
    chance = Chance(5)
    picked = [palette.pick(chance, weighted=True).css for _ in range(2000)]
    assert 1700 < picked.count("#000000") < 1900
    palette.pick(chance, weighted=True, label="tint")
    assert chance.outcomes[0].promised == (("#000000", 0.9), ("#ffffff", 0.1))


@given(PARTS, PARTS, PARTS, st.sampled_from(sorted(HARMONIES)))
def test_harmonies_keep_lightness_and_turn_the_hue(red: float, green: float, blue: float, kind: str) -> None:
    key = Colour(red, green, blue)
    palette = Palette.harmony(key, kind)
    assert key in palette.swatches
    assert len(palette) == len(HARMONIES[kind])
    lightness, chroma, hue = oklch_of(key)
    for swatch, turn in zip(palette, HARMONIES[kind], strict=True):
        other_lightness, other_chroma, other_hue = oklch_of(swatch)
        assert abs(other_lightness - lightness) < 0.025
        assert other_chroma < chroma + 0.02
        if other_chroma > 0.05:
            assert abs((other_hue - hue - turn + 180) % 360 - 180) < 25


def test_contrast_has_the_values_of_the_guidelines() -> None:
    assert contrast("#ffffff", "#000000") == 21
    assert contrast("#777777", "#ffffff") == pytest.approx(4.48, abs=0.005)
    assert contrast("#00000080", "white") == contrast(Colour(127 / 255, 127 / 255, 127 / 255), "white")


@given(PARTS, PARTS, PARTS, PARTS, st.floats(1.2, 4.5))
def test_contrasted_colours_have_the_contrast_that_was_asked_for(
    red: float, green: float, blue: float, grey: float, ratio: float
) -> None:
    ground = Colour(grey, grey, grey)
    assert contrast(contrasted(Colour(red, green, blue), ground, ratio), ground) == pytest.approx(ratio, abs=0.02)


@given(PARTS, PARTS, PARTS, PARTS, PARTS, PARTS, st.floats(1.0, 7.0))
def test_legible_colours_can_be_read_as_a_screen_shows_them_and_change_no_more_than_they_have_to(
    red: float, green: float, blue: float, ground_red: float, ground_green: float, ground_blue: float, ratio: float
) -> None:
    colour, ground = Colour(red, green, blue), Colour(ground_red, ground_green, ground_blue)
    shown = [Colour.parse(each.css) for each in (colour, ground, Colour(0, 0, 0), Colour(1, 1, 1))]
    if max(contrast(shown[2], shown[1]), contrast(shown[3], shown[1])) < ratio:
        with pytest.raises(SketchError, match="no colour has a contrast of"):
            legible(colour, ground, ratio)
        return
    found = legible(colour, ground, ratio)
    assert contrast(Colour.parse(found.css), shown[1]) >= ratio
    if contrast(shown[0], shown[1]) >= ratio:
        assert found == colour, "what could be read stays"


@pytest.mark.parametrize("suffix", ["json", "txt"])
def test_a_palette_is_read_as_it_was_written(tmp_path: Path, suffix: str) -> None:
    palette = Palette(["#14213d", "#d9715b80", "#e8b44f"], [1, 2, 1])
    palette.write(tmp_path / f"night.{suffix}")
    with reading_by(Reading()) as paths:
        again = Palette.read(tmp_path / f"night.{suffix}")
    assert [swatch.css for swatch in again] == [swatch.css for swatch in palette]
    assert again.shares == (palette.shares if suffix == "json" else pytest.approx((1 / 3, 1 / 3, 1 / 3)))
    assert paths == {tmp_path / f"night.{suffix}"}


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("a.txt", "#14213d\n\n  reddish \n", "a.txt, line 3: 'reddish' is not a colour"),
        ("a.txt", "\n \n", "has no colours"),
        ("a.json", "{", "is not JSON"),
        ("a.json", '{"colours": []}', "has no list of swatches"),
        ("a.json", '["teal", {"colour": "#fff", "share": -1}]', "swatch 2: share is a number"),
        ("a.json", '[{"colour": 7}]', "swatch 1: a colour is a CSS string"),
        ("a.txt", b"\xff\xfe\x00", "is neither JSON nor text"),
        ("missing.txt", None, "cannot be read"),
    ],
)
def test_a_palette_file_that_makes_no_sense_is_told_with_its_place(
    tmp_path: Path, name: str, content: str | bytes | None, words: str
) -> None:
    if content is not None:
        (tmp_path / name).write_bytes(content if isinstance(content, bytes) else content.encode())
    with pytest.raises(PictureError) as caught:
        Palette.read(tmp_path / name)
    assert words in caught.value.message


@pytest.mark.parametrize(
    ("call", "words"),
    [
        (lambda p: p.sorted("size"), "by must be one of lightness, chroma, hue, share"),
        (lambda p: p.limited(0), "count must be a whole number"),
        (lambda p: p.merged(-1), "distance must be 0 or more"),
        (lambda p: Palette.harmony("red", "loud"), "kind must be one of complementary"),
        (lambda p: Palette(["red"], [1, 2]), "1 colour has 2 shares"),
        (lambda p: Palette(["red"], [0]), "not all 0"),
        (lambda p: p.ramp(np.array([np.nan])), "not a number"),
        (lambda p: contrasted("red", "white", 30), "from 1 (none) to 21"),
        (lambda p: contrasted("red", "#808080", 15), "no colour has a contrast of 15"),
        (lambda p: legible("red", "white", 0), "legible: a contrast ratio is from 1"),
        (lambda p: legible("red", "#808080", 15), "legible: no colour has a contrast of 15"),
        (
            lambda p: Palette.from_picture(DEMO / "dusk.png", method="guess"),
            "method must be one of k-means, closest-k-means, median-cut",
        ),
    ],
)
def test_what_makes_no_sense_of_a_palette_is_refused(call: Any, words: str) -> None:
    with pytest.raises(SketchError) as caught:
        call(Palette(["red", "teal"]))
    assert words in caught.value.message


def test_the_palettes_of_the_demo_pictures_never_change() -> None:
    assert [swatch.css for swatch in Palette.from_picture(DEMO / "dusk.png", count=5)] == DUSK
    assert [swatch.css for swatch in Palette.from_picture(DEMO / "dusk.png", count=5, method="median-cut")] == DUSK_CUT
    assert [swatch.css for swatch in Palette.from_picture(DEMO / "lichen.png", count=5)] == LICHEN


DUSK = ["#211f40", "#503f64", "#966072", "#d68a6d", "#f2b877"]
DUSK_CUT = ["#1b1a39", "#272448", "#5c4466", "#bc7670", "#eaa772"]
LICHEN = ["#616464", "#b16635", "#889570", "#bbb376", "#d1d5b7"]


@given(
    st.lists(st.tuples(*[st.integers(0, 255)] * 3), min_size=1, max_size=6, unique=True),
    st.integers(1, 12),
    st.sampled_from(list(WAYS.values())),
)
def test_a_picture_of_few_colours_gives_them_and_their_shares(
    colours: list[tuple[int, int, int]], count: int, find: Any
) -> None:
    pixels = np.array([[(*colour, 255)] * 4 for colour in colours], np.uint8)
    clusters = find(pixels, count)
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


def test_the_closest_colours_count_what_is_half_opaque_by_half() -> None:
    pixels = np.array([[(255, 0, 0, 51), (0, 0, 255, 255)]], np.uint8)
    found = closest_k_means(pixels, 4)
    assert dict(zip(map(tuple, np.round(found.srgb * 255).tolist()), found.shares.tolist(), strict=True)) == {
        (0, 0, 255): pytest.approx(5 / 6),
        (255, 0, 0): pytest.approx(1 / 6),
    }


@pytest.mark.parametrize("count", [4, 9, 16])
def test_the_closest_colours_are_as_close_as_a_reference_with_ten_beginnings(count: int) -> None:
    chance = np.random.default_rng(count)
    middles = chance.uniform(0, 255, (14, 3))
    pixels = np.full((40, 70, 4), 255, np.uint8)
    pixels[..., :3] = np.clip(middles[chance.integers(0, 14, (40, 70))] + chance.normal(0, 9, (40, 70, 3)), 0, 255)
    places, weights = gathered(pixels, by_alpha=True)

    def error(centres: FloatArray) -> float:
        return float(((((places[:, None] - centres[None]) ** 2).sum(axis=2)).min(axis=1) * weights).sum())

    def lloyd(seed: int) -> float:
        centres = places[np.random.default_rng(seed).choice(len(places), count, replace=False, p=weights / weights.sum())]
        for _ in range(80):
            own = ((places[:, None] - centres[None]) ** 2).sum(axis=2).argmin(axis=1)
            for number in np.unique(own):
                centres[number] = np.average(places[own == number], axis=0, weights=weights[own == number])
        return error(centres)

    ours = error(oklab_from_srgb(closest_k_means(pixels, count).srgb))
    assert ours < 1.03 * min(map(lloyd, range(10)))
    assert ours <= error(oklab_from_srgb(k_means(pixels, count).srgb)) * 1.001


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
        with reading_by(Reading()) as paths:
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
    with pytest.raises(SketchError, match="count must be a whole number from 1 to 64"):
        Palette.from_picture(DEMO / "dusk.png", count=count)


def test_a_ramp_passes_through_the_mixtures_of_its_colours_and_jumps_where_two_share_a_place() -> None:
    night, gold, teal = (Colour.parse(css) for css in ("#14213d80", "#e8b44f", "#008080"))
    table = ramp_table(linear_ramp((0, 0), (1, 0), [night, gold, teal, teal, night], at=[0.125, 0.5, 0.5, 0.75, 0.875]))
    places = np.arange(RAMP_STEPS + 1) / RAMP_STEPS
    for place, colour in zip(places.tolist(), table.tolist(), strict=True):
        first, second, way = (night, gold, (place - 0.125) / 0.375) if place < 0.5 else (teal, night, (place - 0.75) / 0.125)
        expected = mixed(first, second, way)
        assert colour == pytest.approx(expected, abs=2e-6)


def test_ramps_are_tabulated_together_as_they_are_alone() -> None:
    chance = Chance(4)
    ramps = [
        linear_ramp((0, 0), (1, 0), [chance.colour(lightness=(0, 1), chroma=(0, 0.2)) for _ in range(2 + number % 3)])
        for number in range(12)
    ]
    together = ramp_tables([ramp.stops for ramp in ramps])
    assert together.shape == (12, RAMP_STEPS + 1, 4)
    for table, ramp in zip(together, ramps, strict=True):
        assert np.array_equal(table, ramp_table(ramp))
        assert table[0] == pytest.approx(ramp.stops[0][1], abs=1e-6)
        assert table[-1] == pytest.approx(ramp.stops[-1][1], abs=1e-6)


@pytest.mark.parametrize(
    ("parts", "words", "hint"),
    [
        ((255, 0, 0), "red must be a number from 0 to 1 (got 255)", "divide by 255"),
        ((0.2, 0.1, 0, 2), "alpha must be a number from 0 to 1 (got 2)", ""),
        ((0.2, float("nan"), 0), "green must be a number from 0 to 1 (got nan)", ""),
        (("red", 0, 0), "red must be a number from 0 to 1 (got 'red')", "write Colour.parse"),
        ((0, None, 0), "green must be a number from 0 to 1 (got None)", ""),
    ],
)
def test_a_colour_of_parts_that_are_none_is_refused(parts: Any, words: str, hint: str) -> None:
    with pytest.raises(SketchError) as fault:
        Colour(*parts)
    assert words in fault.value.message
    assert hint in fault.value.hint
