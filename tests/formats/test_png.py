from __future__ import annotations

import itertools
import struct
import tempfile
import zlib
from io import BytesIO
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from PIL import Image

from mothseed import Colour, linear_ramp
from mothseed.arrays import ByteArray, FloatArray, WholeArray
from mothseed.faults import FileError, PictureError
from mothseed.files import PART_SUFFIX, write_bytes, written_whole
from mothseed.formats import Effort, Settings, write_picture
from mothseed.formats.picture_reading import read_history
from mothseed.formats.png_reading import quickly_read
from mothseed.formats.png_writing import encoded, write_png, write_png_bands
from mothseed.render import pixel_hash, rendered
from mothseed.render.pixels import HashedBands
from mothseed.render.rounding import Rounding
from mothseed.sheet import Drawing, Sheet
from mothseed.sheet.derive import CLEAR
from mothseed.sketch import load_sketch, perform
from mothseed.sketch.history import history_in_picture
from tests.conftest import Run, WriteSketch, pixels_of
from tests.places import DEMO
from tests.recipes import recipe

SIZES = st.tuples(st.integers(1, 12), st.integers(1, 12), st.sampled_from([3, 4]))


@given(SIZES.flatmap(lambda size: arrays(np.uint8, size)), st.text(st.characters(exclude_categories=["Cs"]), max_size=40))
def test_pixels_and_history_come_back_as_they_went(
    tmp_path_factory: pytest.TempPathFactory, pixels: ByteArray, text: str
) -> None:
    text = text.replace("\0", "")
    path = tmp_path_factory.mktemp("png") / "x.png"
    write_png(path, pixels, text)
    with Image.open(path) as image:
        assert (np.asarray(image) == pixels).all()
    assert read_history(path) == (text or None)


def test_the_size_on_paper_is_written_and_the_colour_space() -> None:
    pixels = np.zeros((4, 4, 3), np.uint8)
    content = encoded(pixels, dpi=300)
    assert b"pHYs" + (11811).to_bytes(4) * 2 + b"\1" in content
    assert b"sRGB" in content
    assert b"pHYs" not in encoded(pixels)


def test_the_same_pixels_give_the_same_bytes() -> None:
    pixels = np.arange(300, dtype=np.uint8).reshape(10, 10, 3)
    assert encoded(pixels, "history") == encoded(pixels, "history")


def test_the_pixel_hash_knows_size_and_content() -> None:
    pixels = np.zeros((4, 6, 3), np.uint8)
    other = pixels.copy()
    other[0, 0, 0] = 1
    assert len({pixel_hash(pixels), pixel_hash(other), pixel_hash(pixels.reshape(6, 4, 3))}) == 3
    assert pixel_hash(pixels) == pixel_hash(np.asfortranarray(pixels))


def test_a_picture_without_history_has_none_and_a_broken_one_is_told(tmp_path: Path) -> None:
    path = tmp_path / "plain.png"
    Image.new("RGB", (3, 3)).save(path)
    assert read_history(path) is None
    path.write_bytes(b"\x89PNG\r\n\x1a\n and then nothing")
    with pytest.raises(PictureError, match="is not a whole picture"):
        read_history(path)
    with pytest.raises(PictureError, match="there is no picture"):
        read_history(tmp_path / "none.png")


def test_a_file_is_whole_or_as_it_was(tmp_path: Path) -> None:
    path = tmp_path / "x.txt"
    write_bytes(path, b"before")

    def interrupted() -> None:
        with written_whole(path) as part:
            part.write_bytes(b"half")
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        interrupted()
    assert path.read_bytes() == b"before"
    assert [file.name for file in tmp_path.iterdir()] == ["x.txt"]


def test_a_full_disk_is_told_and_leaves_the_file_as_it_was(tmp_path: Path) -> None:
    path = tmp_path / "x.txt"
    write_bytes(path, b"before")
    with pytest.raises(FileError, match="No space left on device"), written_whole(path):
        raise OSError(28, "No space left on device")
    assert path.read_bytes() == b"before"
    assert not list(tmp_path.glob(f"*{PART_SUFFIX}"))


def test_a_file_where_a_folder_should_be_is_told(tmp_path: Path) -> None:
    write_bytes(tmp_path / "x", b"")
    with pytest.raises(FileError, match="could not be written"):
        write_bytes(tmp_path / "x" / "y.png", b"")


@given(st.lists(st.integers(1, 5), min_size=1, max_size=5), st.sampled_from([3, 4]))
def test_bands_give_the_picture_that_they_are_of(heights: list[int], channels: int) -> None:
    pixels = np.random.default_rng(sum(heights)).integers(0, 256, (sum(heights), 7, channels), np.uint8)
    edges = np.cumsum([0, *heights])
    bands = [pixels[top:bottom] for top, bottom in itertools.pairwise(edges)]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "bands.png"
        write_png_bands(path, iter(bands), len(pixels), "{}", 300)
        assert (pixels_of(path) == pixels).all()
        assert read_history(path) == "{}"
    hashed = HashedBands(bands, len(pixels))
    assert [len(band) for band in hashed] == heights
    assert hashed.digest == pixel_hash(pixels)


GLASS = """
    from mothseed import artwork

    @artwork(width=60, height=40, paper={paper})
    def glass(sheet, chance):
        sheet.circle(30, 20, 15, fill="#c9663d", opacity=0.5)
        chance.pick(["für die Wand 🦋"], label="note")
"""


@pytest.mark.parametrize("ending", ["webp", "tif", "jpg"])
def test_other_kinds_of_picture_have_the_same_pixels_and_history(run: Run, write_sketch: WriteSketch, ending: str) -> None:
    write_sketch(GLASS.format(paper="'#f4efe4'"), "glass.py")
    assert run("proof", "glass.py", "-o", "glass.png", "--width", "50mm").status == 0
    assert run("proof", "glass.py", "-o", f"glass.{ending}", "--width", "50mm").status == 0
    ours, theirs = pixels_of("glass.png").astype(int), pixels_of(f"glass.{ending}").astype(int)
    assert np.abs(ours - theirs).max() <= (24 if ending == "jpg" else 0)
    assert np.abs(ours - theirs).mean() < 0.8
    history = history_in_picture(Path(f"glass.{ending}"))
    assert history == history_in_picture(Path("glass.png"))
    assert history is not None
    assert history.outcomes[0].value == "für die Wand 🦋"
    if ending != "webp":
        with Image.open(f"glass.{ending}") as image:
            assert image.info["dpi"] == pytest.approx((300, 300), abs=0.1)


def test_what_a_kind_of_picture_cannot_hold_is_told(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(GLASS.format(paper="None"), "glass.py")
    answer = run("proof", "glass.py", "-o", "glass.jpg")
    assert (answer.status, "a JPEG cannot be transparent" in answer.err) == (1, True)
    answer = run("proof", "glass.py", "-o", "glass.webp", "--width", "17000px")
    assert (answer.status, "at most 16383 pixels on a side" in answer.err) == (1, True)
    assert run("proof", "glass.py", "-o", "clear.webp", "--no-daybook").status == 0
    assert (pixels_of("clear.webp")[0, 0] == 0).all()
    assert "endings are .png" in run("proof", "glass.py", "-o", "glass.gif").err
    assert sorted(path.name for path in Path().iterdir()) == ["clear.webp", "glass.py"]


@given(SIZES.flatmap(lambda size: arrays(np.uint8, size)), st.sampled_from(Effort), st.integers(1, 4))
def test_every_effort_gives_the_same_pixels(pixels: ByteArray, effort: Effort, rows: int) -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "x.png"
        bands = [pixels[top : top + rows] for top in range(0, len(pixels), rows)]
        write_png_bands(path, iter(bands), len(pixels), effort=effort)
        assert (pixels_of(path) == pixels).all()
        assert (np.asarray(Image.open(BytesIO(encoded(pixels, effort=effort)))) == pixels).all()


@pytest.mark.parametrize("name", ["specimen", "register"])
def test_pictures_are_no_larger_than_those_of_a_usual_writer(name: str) -> None:
    pixels = rendered(perform(load_sketch(DEMO / f"{name}.py"), recipe(5)).drawing, 500)
    theirs = BytesIO()
    Image.fromarray(pixels).save(theirs, "PNG")
    sizes = [len(encoded(pixels, effort=effort)) for effort in (Effort.QUICK, Effort.USUAL, Effort.SMALL)]
    assert sizes[0] > sizes[1] > sizes[2]
    assert sizes[1] <= len(theirs.getvalue()) * 1.01
    assert sizes[2] < len(theirs.getvalue()) * 0.95


def test_a_small_picture_has_the_same_pixels(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    run("proof", "spots.py", "-o", "usual.png")
    assert run("proof", "spots.py", "--small", "-o", "small.png").status == 0
    assert (pixels_of("usual.png") == pixels_of("small.png")).all()
    assert Path("small.png").stat().st_size < Path("usual.png").stat().st_size
    assert "--small: that is for a PNG" in run("proof", "spots.py", "--small", "-o", "a.webp").err


def ramp_sheet(paper: str | None = "#f4efe4") -> Drawing:
    sheet = Sheet(64, 48, "px", Colour.parse(paper) if paper else CLEAR)
    sheet.rect(0, 0, 64, 40, fill=linear_ramp((0, 0), (64, 0), ["#101418", "#1c2226"]))
    sheet.circle(30, 30, 12, fill="#c9663d", opacity=0.37)
    return sheet.drawing()


@pytest.mark.parametrize("paper", ["#f4efe4", None])
def test_sixteen_bits_are_the_paint_more_finely(tmp_path: Path, paper: str | None) -> None:
    drawing = ramp_sheet(paper)
    write_picture(tmp_path / "fine.png", drawing, settings=Settings(64, rounding=Rounding(bits=16)))
    fine = png_samples(tmp_path / "fine.png")
    usual = rendered(drawing, 64)
    assert fine.shape == usual.shape
    assert np.abs(fine / 257 - usual).max() <= 0.51
    assert len(np.unique(fine[4, :, 0])) > 50 > 3 * len(np.unique(usual[4, :, 0]))


def test_greys_are_the_luma_of_the_colours(tmp_path: Path) -> None:
    drawing = ramp_sheet()
    write_picture(tmp_path / "grey.png", drawing, settings=Settings(64, rounding=Rounding(grey=True)))
    grey = png_samples(tmp_path / "grey.png")[..., 0]
    with Image.open(tmp_path / "grey.png") as image:
        assert image.mode == "L"
    luma = rendered(drawing, 64) @ np.array([0.2126, 0.7152, 0.0722])
    assert np.abs(grey - luma).max() <= 1
    write_picture(tmp_path / "clear.png", ramp_sheet(None), settings=Settings(64, rounding=Rounding(16, grey=True)))
    assert png_samples(tmp_path / "clear.png").shape == (48, 64, 2)


def test_dithering_spreads_steps_and_leaves_flat_colours_alone(tmp_path: Path) -> None:
    drawing = ramp_sheet()
    write_picture(tmp_path / "dithered.png", drawing, settings=Settings(64, rounding=Rounding(dither=True)))
    dithered, usual = png_samples(tmp_path / "dithered.png").astype(float), rendered(drawing, 64).astype(float)
    assert (dithered[42:] == usual[42:]).all(), "the paper lies on a level"
    assert np.abs(dithered - usual).max() == 1
    write_picture(tmp_path / "fine.png", drawing, settings=Settings(64, rounding=Rounding(bits=16)))
    true = png_samples(tmp_path / "fine.png") / 257

    def far(pixels: FloatArray) -> float:
        blocks = (pixels - true)[:16, :, 0].reshape(2, 8, 8, 8).mean(axis=(1, 3))
        return float(np.abs(blocks).max())

    assert far(dithered) < 0.08 < far(usual)


def png_samples(path: Path) -> WholeArray:
    """The samples of a PNG file, taken apart by the standard's own words, as Pillow reads 8 of 16 bits."""
    content, place, data = path.read_bytes(), 8, b""
    while place < len(content):
        length, name = struct.unpack(">I4s", content[place : place + 8])
        body = content[place + 8 : place + 8 + length]
        if name == b"IHDR":
            width, height, bits, colour = struct.unpack(">IIBB", body[:10])
        data += body * (name == b"IDAT")
        place += length + 12
    size = {0: 1, 2: 3, 4: 2, 6: 4}[colour] * bits // 8
    rows = np.frombuffer(zlib.decompress(data), np.uint8).reshape(height, -1)
    done = np.zeros((height + 1, (width + 1) * size), np.int64)
    for number, (kind, *rests) in enumerate(rows.tolist(), 1):
        for at, rest in enumerate(rests, size):
            left, up, corner = done[number, at - size], done[number - 1, at], done[number - 1, at - size]
            near = min((left, up, corner), key=lambda each: abs(left + up - corner - each))
            done[number, at] = (rest + [0, left, up, (left + up) // 2, near][kind]) % 256
    whole = done[1:, size:].reshape(height, width, -1, bits // 8)
    return whole[..., 0] * 256 + whole[..., 1] if bits == 16 else whole[..., 0]


@given(st.integers(1, 20), st.integers(1, 20), st.sampled_from([3, 4]), st.integers(0, 2**32), st.sampled_from(list(Effort)))
def test_what_is_read_quickly_is_what_anybody_reads(height: int, width: int, channels: int, seed: int, effort: Effort) -> None:
    pixels = np.random.default_rng(seed).integers(0, 256, (height, width, channels)).astype(np.uint8)
    content = encoded(pixels, "history", effort=effort)
    read = quickly_read(content)
    assert read is not None or effort is not Effort.QUICK
    assert read is None or np.array_equal(read, pixels)
    assert np.array_equal(np.asarray(Image.open(BytesIO(content))), pixels)


@given(st.data())
def test_a_file_that_is_damaged_is_left_to_others(data: st.DataObject) -> None:
    content = bytearray(encoded(np.arange(1200, dtype=np.uint8).reshape(20, 20, 3), effort=Effort.QUICK))
    place = data.draw(st.integers(0, len(content) - 1))
    content[place] ^= data.draw(st.integers(1, 255))
    assert quickly_read(bytes(content)) is None
    assert quickly_read(bytes(content[:place])) is None


def test_other_kinds_of_file_are_left_to_others(tmp_path: Path) -> None:
    picture = Image.fromarray(np.zeros((9, 9, 3), np.uint8))
    for mode in ("L", "P", "1", "LA", "I;16", "RGB"):
        picture.convert("L" if mode == "I;16" else mode).convert(mode).save(tmp_path / "a.png")
        read = quickly_read((tmp_path / "a.png").read_bytes())
        assert read is None or mode == "RGB"
    picture.save(tmp_path / "a.jpg")
    assert quickly_read((tmp_path / "a.jpg").read_bytes()) is None
    assert quickly_read(b"") is None
