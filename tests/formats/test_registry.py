"""The table of formats: every ending leads to what writes it, and what a format does not take is refused in its words."""

from __future__ import annotations

from pathlib import Path

import pytest
from PIL import Image

from mothseed import Colour, doors
from mothseed.faults import FieldError, FileError, PictureError
from mothseed.formats import Effort, Settings, format_of, history_in, write_picture
from mothseed.formats.registry import endings, refuse_settings, takers
from mothseed.sheet import Sheet
from mothseed.sheet.drawing import Drawing

RASTER = (".png", ".webp", ".tif", ".tiff", ".jpg", ".jpeg")
SHAPES = (".svg", ".pdf")
HISTORY = '{"sketch": "wings.py", "seed": "Nachtfalter \\u00fc"}'


def drawing() -> Drawing:
    sheet = Sheet(60, 40, "mm", Colour.parse("#f4efe4"))
    sheet.circle(30, 20, 12, fill="teal")
    return sheet.drawing()


def test_these_are_the_endings_there_are() -> None:
    assert sorted(endings()) == sorted([*RASTER, *SHAPES])


@pytest.mark.parametrize("ending", RASTER + SHAPES)
def test_a_file_of_every_ending_is_written_and_tells_its_history(tmp_path: Path, ending: str) -> None:
    path = tmp_path / f"moth{ending}"
    written = write_picture(path, drawing(), HISTORY, Settings(width=90))
    assert (written.width, written.height, written.unit) == ((90, 60, "px") if ending in RASTER else (60, 40, "mm"))
    if ending != ".pdf":  # what it has as its subject is for people
        assert history_in(path) == HISTORY
    upper = tmp_path / f"MOTH{ending.upper()}"
    write_picture(upper, drawing(), HISTORY, Settings(width=90))
    assert format_of(upper) is format_of(path)
    if ending in RASTER:
        with Image.open(path) as image:
            assert image.size == (90, 60)
            assert image.convert("RGB").getpixel((45, 30)) == pytest.approx((0, 128, 128), abs=3)


@pytest.mark.parametrize("ending", RASTER + SHAPES)
def test_a_picture_without_a_history_has_none(tmp_path: Path, ending: str) -> None:
    path = tmp_path / f"moth{ending}"
    write_picture(path, drawing(), "", Settings(width=30))
    assert history_in(path) is None


@pytest.mark.parametrize("ending", [*RASTER, ".svg"])
@pytest.mark.parametrize("content", [b"", b"no picture at all", None])
def test_what_is_no_whole_picture_is_refused(tmp_path: Path, ending: str, content: bytes | None) -> None:
    path = tmp_path / f"moth{ending}"
    if content is not None:
        path.write_bytes(content)
        with pytest.raises(PictureError, match="is not a whole picture"):
            history_in(path)
    else:
        with pytest.raises(PictureError, match="there is no picture"):
            history_in(path)


@pytest.mark.parametrize("name", ["moth", "moth.", "moth.xyz", ".png/moth", "moth.png.bak"])
def test_an_ending_that_nobody_has_is_refused_with_those_there_are(tmp_path: Path, name: str) -> None:
    with pytest.raises(FieldError) as caught:
        format_of(tmp_path / name)
    assert caught.value.field == "output"
    assert ".png, .svg, .pdf" in caught.value.hint


def test_nothing_is_left_where_a_file_cannot_be_written(tmp_path: Path) -> None:
    (tmp_path / "box").write_text("no folder")
    for ending in RASTER + SHAPES:
        with pytest.raises(FileError):
            write_picture(tmp_path / "box" / f"moth{ending}", drawing(), "", Settings(width=30))
    assert [path.name for path in tmp_path.iterdir()] == ["box"]


@pytest.mark.parametrize("width", [0, -4, 20_001])
def test_a_size_that_cannot_be_made_is_refused_before_anything_is_written(tmp_path: Path, width: int) -> None:
    for ending in RASTER:
        with pytest.raises(FieldError, match="cannot be made"):
            write_picture(tmp_path / f"moth{ending}", drawing(), "", Settings(width=width))
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize(
    ("ending", "setting", "words"),
    [
        (".svg", "width", "an SVG is as large as its sheet"),
        (".pdf", "dpi", "a PDF is as large as its sheet"),
        (".png", "keep_text", "that is for an SVG"),
        (".jpg", "rounding", "that is for a PNG"),
        (".svg", "effort", "that is for "),
    ],
)
def test_a_setting_that_means_nothing_to_a_format_is_refused(ending: str, setting: str, words: str) -> None:
    with pytest.raises(FieldError) as caught:
        refuse_settings(Path(f"moth{ending}"), {"asked": setting})
    assert caught.value.field == "asked"
    assert words in caught.value.message
    assert caught.value.hint


def test_a_setting_that_a_format_takes_is_let_through() -> None:
    known = set(Settings.__dataclass_fields__)
    for ending in RASTER + SHAPES:
        form = format_of(Path(f"moth{ending}"))
        assert form.takes <= known
        assert ending in form.endings
        refuse_settings(Path(f"moth{ending}"), {name: name for name in form.takes})
    assert {form.name for form in takers("keep_text")} == {"SVG"}


@pytest.mark.parametrize("ending", RASTER)
def test_every_kind_of_pixels_says_how_large_it_is_printed(tmp_path: Path, ending: str) -> None:
    path = tmp_path / f"moth{ending}"
    write_picture(path, drawing(), '{"seed": 3}', Settings(width=30, dpi=254))
    with Image.open(path) as image:
        told = image.info.get("dpi") or tuple(map(float, (image.getexif()[tag] for tag in (0x011A, 0x011B))))
    assert told == pytest.approx((254, 254), abs=0.1)
    assert history_in(path) == '{"seed": 3}'


def test_effort_changes_the_file_and_not_the_picture(tmp_path: Path) -> None:
    sizes = {}
    shown = []
    for effort in Effort:
        path = tmp_path / f"{effort.value}.png"
        write_picture(path, drawing(), "", Settings(width=300, effort=effort))
        sizes[effort] = path.stat().st_size
        with Image.open(path) as image:
            shown.append(image.tobytes())
    assert shown[0] == shown[1] == shown[2]
    assert sizes[Effort.SMALL] <= sizes[Effort.USUAL] <= sizes[Effort.QUICK]


def test_no_package_is_installed_that_brings_something() -> None:
    assert [doors.names(group) for group in (doors.FORMATS, doors.CHECKS, doors.MEASURES)] == [(), (), ()]
