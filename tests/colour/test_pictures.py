"""Pictures as a source of colour and as paint, against pixels that are known."""

from __future__ import annotations

import math
import struct
import zlib
from dataclasses import replace
from io import BytesIO
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageCms

from mothseed.chance import Chance
from mothseed.colour import Colour, Picture
from mothseed.colour.picture import read_picture
from mothseed.colour.placed import OUTSIDES, fitted
from mothseed.colour.texture import Texture
from mothseed.faults import PictureError, SketchError
from mothseed.render import rendered
from mothseed.sheet import Sheet, fingerprint
from tests.places import DEMO

ANYTHING: Any = "nothing of the kind"
PARTS = st.floats(0, 1)


def laid(pixels: Any, width: float, height: float, **more: Any) -> Picture:
    """A picture of these pixels, stretched over an area at the origin."""
    array = np.asarray(pixels, np.uint8)
    if array.ndim == 2:
        array = np.stack([array, array, array, np.full_like(array, 255)], axis=2)
    box = (0.0, 0.0, width, height)
    return Picture(Texture(array), box, box, **more)


CHECKS = np.array([[0, 255], [255, 0]])
SLOPE = np.tile(np.arange(0, 200, 5), (30, 1))
FAINT = np.random.default_rng(4).integers(0, 256, (6, 9, 4))


def test_colours_are_those_of_the_pixels_in_their_middles_and_straight_between() -> None:
    picture = laid([[0, 100, 200]], 30, 10)
    assert [round(picture.at(x, 5.0).red * 255) for x in (5.0, 10.0, 15.0, 25.0)] == [0, 50, 100, 200]
    plain = replace(picture, smooth=False)
    assert [round(plain.at(x, 5.0).red * 255) for x in (0.1, 9.9, 10.1, 29.0)] == [0, 0, 100, 200]


@pytest.mark.parametrize("outside", OUTSIDES)
def test_the_mean_of_a_disc_is_that_of_its_pixels_as_they_are_laid_out(outside: str) -> None:
    # A picture so large, laid out all around by hand, that no disc reaches beyond it.
    ways = {"pad": "edge", "repeat": "wrap", "reflect": "symmetric", "none": "constant"}
    padded = np.pad(FAINT, ((12, 12), (18, 18), (0, 0)), mode=ways[outside])  # type: ignore[call-overload]
    picture, around = laid(FAINT, 9, 6, outside=outside), laid(padded, 45, 30)
    places = np.random.default_rng(2).uniform((-8, -6, 0), (17, 12, 3.5), (200, 3))
    for x, y, radius in places.tolist():
        mean, expected = picture.average(x, y, radius), around.average(x + 18, y + 12, radius)
        assert mean == pytest.approx(expected, abs=1e-12), (x, y, radius)


@given(st.lists(st.tuples(st.floats(-50, 80), st.floats(-50, 80)), min_size=1, max_size=9), st.sampled_from(OUTSIDES))
def test_numbers_and_arrays_give_the_same_colours(places: list[tuple[float, float]], outside: str) -> None:
    x, y = np.array(places).T
    for smooth, pixels in ((True, SLOPE), (True, FAINT), (False, FAINT)):
        picture = laid(pixels, 40, 30, outside=outside, smooth=smooth, tint=Colour(0.9, 1, 0.7, 0.8))
        assert [tuple(colour) for colour in picture.at(x, y).tolist()] == [tuple(picture.at(*place)) for place in places]
        assert [tuple(mean) for mean in picture.average(x, y, 9).tolist()] == [
            tuple(picture.average(*place, 9)) for place in places
        ]
        for call in (picture.lightness, picture.uphill, picture.heading):
            assert call(x, y).tolist() == [call(*place) for place in places]


def test_beyond_the_edge_is_what_was_asked_for() -> None:
    row = [[0, 50, 100, 150]]
    beyond = {name: laid(row, 4, 1, outside=name, smooth=False) for name in OUTSIDES}
    levels = {name: [round(picture.at(x, 0.5).red * 255) for x in (-1.5, -0.5, 4.5, 5.5)] for name, picture in beyond.items()}
    assert levels == {"pad": [0, 0, 150, 150], "repeat": [100, 150, 0, 50], "reflect": [50, 0, 150, 100], "none": [0, 0, 0, 0]}
    assert [beyond["none"].at(x, 0.5).alpha for x in (-0.5, 0.5, 4.5)] == [0, 1, 0]


@given(st.floats(5, 35), st.floats(5, 25), st.floats(0, 30))
def test_the_mean_of_a_disc_on_an_even_slope_is_its_middle(x: float, y: float, radius: float) -> None:
    picture = laid(SLOPE, 40, 30, outside="reflect")
    if radius < min(x, 40 - x):
        assert picture.average(x, y, radius).red * 255 == pytest.approx((x - 0.5) * 5, abs=1.2 + radius * 0.06)


def test_the_mean_of_a_disc_weighs_by_area_and_by_alpha() -> None:
    fine = laid(np.tile(CHECKS, (50, 50)), 100, 100)
    for radius in (3.0, 9.0, 30.0):
        assert fine.average(50.0, 50.0, radius).red == pytest.approx(0.5, abs=0.03)
    half = np.zeros((20, 20, 4))
    half[:, 10:] = (200, 100, 50, 255)
    mean = laid(half, 20, 20).average(10.0, 10.0, 6.0)
    assert np.array(mean) * (255, 255, 255, 1) == pytest.approx([200, 100, 50, 0.5])


@pytest.mark.parametrize(("pixels", "heading"), [(SLOPE, 0), (SLOPE[:, ::-1], 180), (SLOPE.T, 90), (SLOPE.T[::-1], 270)])
def test_uphill_is_towards_the_light_and_the_flow_across_it(pixels: Any, heading: float) -> None:
    picture = laid(pixels, pixels.shape[1], pixels.shape[0])
    assert picture.uphill(15.0, 15.0) == pytest.approx(heading, abs=1e-6)
    assert picture.heading(15.0, 15.0) == pytest.approx((heading + 90) % 360, abs=1e-6)
    flow = picture.flow(np.array([15.0]), np.array([15.0]))
    assert math.hypot(flow.dx[0], flow.dy[0]) == pytest.approx(1)


def test_a_picture_taken_apart_can_be_put_back() -> None:
    picture = laid(np.kron(np.arange(12).reshape(3, 4) * 20, np.ones((10, 10))), 40, 30)
    cells = picture.cells(4, 3)
    assert (cells.x[:4].tolist(), cells.y[::4].tolist()) == ([5, 15, 25, 35], [5, 15, 25])
    assert (cells.col[:5].tolist(), cells.row[:5].tolist()) == ([0, 1, 2, 3, 0], [0, 0, 0, 0, 1])
    assert np.round(cells.colour[:, 0] * 255).tolist() == pytest.approx((np.arange(12) * 20).tolist(), abs=4)
    assert (np.diff(cells.lightness) > 0).all()
    sheet = Sheet(40, 30, "px", Colour(1, 1, 1))
    sheet.rects(cells.x - 5, cells.y - 5, cells.width, cells.height, fill=cells.colour)
    assert np.abs(rendered(sheet.drawing(), 40).astype(int)[..., 0] - picture.texture.pixels[..., 0]).max() <= 5


@pytest.mark.parametrize(
    ("fit", "place"),
    [("cover", (-30, 10, 120, 60)), ("contain", (0, 25, 60, 30)), ("stretch", (0, 10, 60, 60))],
)
def test_a_picture_is_fitted_to_the_area(fit: str, place: tuple[float, ...]) -> None:
    texture = Texture(np.zeros((10, 20, 4), np.uint8))
    assert fitted(texture, (0, 10, 60, 60), fit) == place


def test_a_picture_is_found_beside_the_file_that_names_it(tmp_path: Path) -> None:
    Image.new("RGB", (8, 4), "#336699").save(tmp_path / "sea.png")
    namespace: dict[str, Any] = {"__file__": str(tmp_path / "sketch.py"), "__name__": "sketch"}
    exec("def look(view):\n    return view.picture('sea.png').at(1.0, 1.0)", namespace)
    assert namespace["look"](Sheet(20, 20, "mm", Colour(1, 1, 1)).inset(3)).css == "#336699"


# As paint


def test_a_picture_drawn_at_its_own_size_is_itself() -> None:
    pixels = np.random.default_rng(7).integers(0, 256, (40, 60, 4), np.uint8)
    pixels[..., 3] = 255
    sheet = Sheet(60, 40, "px", Colour(1, 1, 1))
    sheet.rect(0, 0, 60, 40, fill=laid(pixels, 60, 40))
    assert np.abs(rendered(sheet.drawing(), 60).astype(int) - pixels[..., :3]).max() <= 1


def test_a_stamp_is_turned_tinted_and_faded() -> None:
    quarters = laid(np.array([[255, 0], [0, 0]]), 2, 2, smooth=False)
    sheet = Sheet(40, 40, "px", Colour(1, 1, 1))
    sheet.stamp(20, 20, quarters, 20, turn=90)
    sheet.stamp(35, 5, laid([[255]], 4, 4), tint="#ff0000", opacity=0.5)
    pixels = rendered(sheet.drawing(), 40)
    assert [pixels[y, x, 0] for x, y in ((15, 15), (25, 15), (15, 25), (25, 25))] == [0, 255, 0, 0]
    assert pixels[5, 35].tolist() == [255, 128, 128]


@pytest.mark.parametrize("scale", [0.1, 0.37, 1.0, 4.3])
def test_a_stamp_keeps_the_mean_of_its_picture_at_any_size(scale: float) -> None:
    texture = laid(np.random.default_rng(3).integers(0, 256, (120, 120)), 120, 120)
    sheet = Sheet(120 * scale, 120 * scale, "px", Colour(0, 0, 0))
    sheet.stamp(60 * scale, 60 * scale, texture, 120 * scale)
    mean = rendered(sheet.drawing(), max(round(120 * scale), 1))[..., 0].mean()
    assert mean == pytest.approx(texture.texture.pixels[..., 0].mean(), abs=3)


def test_transparent_pixels_let_the_ground_through_without_a_fringe() -> None:
    pixels = np.zeros((8, 8, 4), np.uint8)
    pixels[:, 4:] = (255, 255, 255, 255)
    sheet = Sheet(64, 64, "px", Colour(1, 1, 1))
    sheet.rect(0, 0, 64, 64, fill=laid(pixels, 64, 64))
    assert rendered(sheet.drawing(), 64).min() == 255, "black that cannot be seen darkens nothing"


def test_a_fingerprint_knows_the_picture_that_is_painted_with() -> None:
    def drawn(level: int) -> str:
        sheet = Sheet(10, 10, "mm", Colour(1, 1, 1))
        sheet.circle(5, 5, 4, fill=laid([[level]], 10, 10))
        return fingerprint(sheet.drawing())

    assert drawn(5) == drawn(5) != drawn(6)


@pytest.mark.parametrize("width", [64, 97])
def test_pictures_are_painted_alike_on_any_number_of_threads(width: int) -> None:
    sheet = Sheet(64, 64, "px", Colour(1, 1, 1))
    sheet.frame(32, 32, turn=20).stamp(0, 0, laid(SLOPE, 40, 30, outside="repeat"), 90, 50)
    drawing = sheet.drawing()
    assert (rendered(drawing, width, threads=1) == rendered(drawing, width, threads=2)).all()


@pytest.mark.parametrize(
    ("call", "words"),
    [
        (lambda s: s.picture("dusk.png", fit="crop"), "fit must be one of cover, contain, stretch"),
        (lambda s: laid(SLOPE, 4, 3, outside="black"), "outside must be one of pad, repeat, reflect, none"),
        (lambda s: s.stamp(1, 1, "dusk.png"), "stamp: a picture is needed"),
        (lambda s: s.stamp(1, 1, laid(SLOPE, 4, 3), -2), "stamp: width must be a length above 0 (got -2)"),
        (lambda s: laid(SLOPE, 4, 3).at(math.nan, 1.0), "a place is not finite"),
        (lambda s: laid(SLOPE, 4, 3).at([1, 2], [1, 2, 3]), "arrays of one shape"),
        (lambda s: laid(SLOPE, 4, 3).average(1.0, 1.0, -1.0), "the radius must be 0 or more"),
        (lambda s: laid(SLOPE, 4, 3).uphill(1.0, 1.0, 0.0), "the radius must be above 0"),
        (lambda s: laid(SLOPE, 4, 3).cells(0, 4), "cols must be a whole number"),
    ],
)
def test_what_makes_no_sense_of_a_picture_is_refused(call: Any, words: str) -> None:
    dusk = DEMO / "dusk.png"
    sheet = Sheet(20, 20, "mm", Colour(1, 1, 1))
    sheet_with_dusk: Any = type("Sketch", (), {"picture": lambda self, name, **more: sheet.picture(dusk, **more)})()
    target = sheet_with_dusk if words.startswith("fit") else sheet
    with pytest.raises(SketchError) as caught:
        call(target)
    assert words in caught.value.message


# Reading files


def test_a_part_of_a_picture_lies_where_it_lay() -> None:
    picture = laid(SLOPE, 80, 60)
    part = picture.cropped(10, 14, 20, 9)
    assert part.place == (10, 14, 20, 10)
    assert part.size == (10, 5)
    assert (part.texture.pixels == picture.texture.pixels[7:12, 5:15]).all()
    for x, y in ((13.0, 17.0), (20.0, 18.0), (27.0, 22.0)):
        assert part.at(x, y) == picture.at(x, y)
    assert picture.cropped(-50, -50, 500, 500).place == picture.place
    assert picture.cropped(10, 10, 0.01, 0.01).size == (1, 1)


@pytest.mark.parametrize(("cols", "rows"), [(1, 1), (4, 3), (7, 7), (40, 30)])
def test_tiles_put_back_are_the_picture(cols: int, rows: int) -> None:
    picture = laid(SLOPE, 80, 60)
    tiles = picture.tiles(cols, rows)
    whole = np.zeros_like(picture.texture.pixels)
    for tile in tiles:
        left, top = round(tile.place[0] / 2), round(tile.place[1] / 2)
        whole[top : top + tile.size[1], left : left + tile.size[0]] = tile.texture.pixels
        assert tile.centre == (tile.place[0] + tile.place[2] / 2, tile.place[1] + tile.place[3] / 2)
    assert len(tiles) == cols * rows
    assert (whole == picture.texture.pixels).all()
    assert sum(tile.size[0] * tile.size[1] for tile in tiles) == 40 * 30


def test_a_tone_curve_is_laid_on_each_channel_and_leaves_alpha() -> None:
    pixels = np.array([[[0, 128, 255, 40], [64, 192, 10, 255]]], np.uint8)
    toned = laid(pixels, 10, 10).toned([(0, 1), (0.5, 0.25), (1, 0)]).texture.pixels
    straight = [
        255 - level * 191.25 / 127.5 if level <= 127.5 else 63.75 - (level - 127.5) * 0.5
        for level in (0, 128, 255, 64, 192, 10)
    ]
    assert np.abs(toned[0, :, :3].ravel() - np.array(straight)).max() <= 0.51
    assert toned[..., 3].tolist() == [[40, 255]]
    assert (laid(SLOPE, 10, 10).toned([(0, 0), (1, 1)]).texture.pixels == laid(SLOPE, 10, 10).texture.pixels).all()


def test_detail_is_how_much_the_pixels_around_vary() -> None:
    pixels = np.random.default_rng(1).integers(0, 256, (60, 80))
    picture = laid(pixels, 80, 60)
    light = picture.texture.lightness(0)
    for x, y, radius in ((40, 30, 10), (3, 5, 3), (40, 30, 200)):
        box = light[max(y - radius, 0) : y + radius, max(x - radius, 0) : x + radius]
        assert picture.detail(x, y, radius) == pytest.approx(box.std(), abs=1e-9)
    assert picture.detail(np.array([40, 3]), np.array([30, 5]), np.array([10, 3])).shape == (2,)
    assert laid([[0, 255]], 2, 1).detail(1, 0.5, 1) == pytest.approx(0.5)
    assert laid([[90, 90]], 2, 1).detail(1, 0.5, 1) == 0
    large = laid(np.tile([[0, 255], [255, 0]], (1500, 1000)), 20, 30)
    assert large.detail(10, 15, 4) == pytest.approx(0, abs=1e-6)  # of its smaller copy, in which the checks are one grey


def test_a_photograph_is_turned_as_its_camera_was_held(tmp_path: Path) -> None:
    image = Image.new("RGB", (6, 4), "black")
    image.putpixel((0, 0), (255, 255, 255))
    exif = Image.Exif()
    exif[0x0112] = 6  # the camera was held upright
    image.save(tmp_path / "upright.png", exif=exif)
    pixels = read_picture(tmp_path / "upright.png")
    assert pixels.shape == (6, 4, 4)
    assert pixels[0, 3, 0] == 255


def test_sixteen_bits_keep_their_levels(tmp_path: Path) -> None:
    levels = np.array([[0, 257, 32896, 65535]], np.uint16)
    for name in ("deep.png", "deep.tif"):
        Image.fromarray(levels).save(tmp_path / name)
        assert read_picture(tmp_path / name)[0, :, 0].tolist() == [0, 1, 128, 255]
    Image.fromarray(np.array([[0, 0.5, 1.0]], np.float32)).save(tmp_path / "real.tif")
    assert read_picture(tmp_path / "real.tif")[0, :, 0].tolist() == [0, 128, 255]


def test_a_colour_profile_is_followed_and_one_that_is_broken_is_not(tmp_path: Path) -> None:
    narrow = ImageCms.ImageCmsProfile(ImageCms.createProfile("LAB"))
    good = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    for name, profile in (("good.png", good), ("broken.png", b"no profile"), ("other.png", narrow.tobytes())):
        Image.new("RGB", (3, 3), "#336699").save(tmp_path / name, icc_profile=profile)
        assert np.abs(read_picture(tmp_path / name)[0, 0, :3].astype(int) - (0x33, 0x66, 0x99)).max() <= 1


def test_the_first_frame_of_a_moving_picture_counts(tmp_path: Path) -> None:
    frames = [Image.new("RGB", (4, 4), colour) for colour in ("red", "blue")]
    frames[0].save(tmp_path / "moving.gif", save_all=True, append_images=frames[1:])
    assert read_picture(tmp_path / "moving.gif")[0, 0].tolist() == [255, 0, 0, 255]


def png_of_size(width: int, height: int) -> bytes:
    """A file that claims to be so large, and holds nothing."""

    def chunk(kind: bytes, content: bytes) -> bytes:
        return struct.pack(">I", len(content)) + kind + content + struct.pack(">I", zlib.crc32(kind + content))

    header = chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0))
    return b"\x89PNG\r\n\x1a\n" + header + chunk(b"IDAT", b"") + chunk(b"IEND", b"")


def torn_jpeg() -> bytes:
    buffer = BytesIO()
    Image.fromarray(np.random.default_rng(1).integers(0, 256, (64, 64, 3), np.uint8)).save(buffer, "JPEG")
    return buffer.getvalue()[:2000]


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (png_of_size(60_000, 60_000), "more than can be read"),
        (png_of_size(13_000, 13_000), "13000 x 13000 pixels, more than can be read"),
        (png_of_size(30, 30), "is damaged"),
        (torn_jpeg(), "is damaged"),
    ],
)
def test_an_enormous_or_torn_file_is_told(tmp_path: Path, content: bytes, words: str) -> None:
    (tmp_path / "x.png").write_bytes(content)
    with pytest.raises(PictureError) as caught:
        read_picture(tmp_path / "x.png")
    assert words in caught.value.message


def test_smaller_copies_are_means_and_count_what_is_opaque_for_more() -> None:
    pixels = np.zeros((2, 4, 4), np.uint8)
    pixels[:, :2] = [(100, 0, 0, 255), (200, 0, 0, 255)]
    pixels[0, 2] = (90, 90, 90, 200)
    texture = Texture(pixels)
    half = texture.level(1)
    assert half.shape == (1, 2, 4)
    assert half[0, 0].tolist() == [150, 0, 0, 255]
    assert half[0, 1].tolist() == [90, 90, 90, 50]
    assert texture.level(9).shape == texture.level(2).shape == (1, 1, 4)
    odd = Texture(np.full((5, 3, 4), 255, np.uint8))
    assert [odd.level(n).shape[:2] for n in range(4)] == [(5, 3), (3, 2), (2, 1), (1, 1)]
    assert odd.level(3).min() == 255
    assert texture == Texture(pixels.copy()) != odd


def test_lightness_of_a_copy_is_that_of_its_pixels() -> None:
    picture = laid(SLOPE, 40, 30)
    levels = picture.texture.lightness(0)
    assert levels.shape == (30, 40)
    assert levels[3, 7] == pytest.approx(picture.lightness(7.5, 3.5))


def test_scattering_by_a_picture_follows_its_light() -> None:
    picture = laid(np.tile([[0] * 20 + [255] * 20], (30, 1)), 40, 30)
    sheet = Sheet(40, 30, "mm", Colour(1, 1, 1))
    places = list(sheet.scatter(200, Chance(3), weight=picture.lightness))
    for place in places:
        place.dot(0, 0, stroke="black")
    drawing = sheet.drawing()
    across = drawing.views[drawing.marks["view"], 4].tolist()
    assert len(places) == 200
    assert min(across) > 18
