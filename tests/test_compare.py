from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from mothseed.colour import Colour
from mothseed.compare import Change, history_changes, measured, paired
from mothseed.compare.measures import oklab_of
from mothseed.errors import UsageError
from mothseed.report.contact import Frame, contact_sheet
from mothseed.report.page import blank, fitted, font
from mothseed.sketch.history import History


def flat(colour: str, size: tuple[int, int] = (8, 6)) -> np.ndarray[tuple[int, ...], np.dtype[np.uint8]]:
    return np.asarray(Image.new("RGB", size, colour))


def test_a_picture_does_not_differ_from_itself() -> None:
    pair = paired(flat("#c9663d"), flat("#c9663d"))
    assert (pair.mean, pair.largest, pair.noticeable) == (0, 0, 0)


def test_black_and_white_are_1_apart() -> None:
    pair = paired(flat("#000000"), flat("#ffffff"))
    assert pair.mean == pytest.approx(1, abs=1e-6)
    assert pair.noticeable == 1
    assert (pair.first.lightness, pair.second.lightness) == pytest.approx((0, 1), abs=1e-6)


def test_the_difference_lies_where_the_pictures_differ() -> None:
    first, second = flat("#808080"), flat("#808080").copy()
    second[2:4, 3:5] = (255, 0, 0)
    difference = paired(first, second).difference
    assert (np.argwhere(difference > 0.02) == [[2, 3], [2, 4], [3, 3], [3, 4]]).all()


def test_coverage_is_what_is_not_bare_paper() -> None:
    pixels = flat("#f4efe4").copy()
    pixels[:3] = (10, 20, 30)
    pixels[0, 0] = (11, 20, 30)
    assert measured(pixels, oklab_of(pixels), Colour.parse("#f4efe4")).coverage == 0.5
    assert measured(pixels, oklab_of(pixels), Colour.parse("#0a141e")).coverage == 1 - 23 / 48
    pixels[3] = (10, 20, 30)
    assert measured(pixels, oklab_of(pixels)).coverage == 1 - 31 / 48, "the most frequent colour stands for the paper"


def test_coverage_on_transparent_paper_is_what_can_be_seen() -> None:
    pixels = np.zeros((6, 8, 4), np.uint8)
    pixels[:3] = (10, 20, 30, 128)
    assert measured(pixels, oklab_of(pixels), Colour.parse("#ffffff00")).coverage == 0.5


def test_transparency_is_compared_as_on_white() -> None:
    clear = np.zeros((4, 4, 4), np.uint8)
    assert paired(clear, flat("#ffffff", (4, 4))).largest == pytest.approx(0, abs=1e-6)


def test_pictures_of_unlike_size_are_refused() -> None:
    with pytest.raises(UsageError, match="unlike size cannot be compared: 8 x 6 and 6 x 8 px"):
        paired(flat("red"), flat("red", (6, 8)))


def test_what_was_changed_is_told_by_name() -> None:
    outcome = {"label": "form", "value": "hawk", "odds": 0.3}
    first = History("a.py", "1f", 7, {"spots": 3, "old": 1}, "f", "#fff", {"tint": 2}, [outcome])
    second = History("a.py", "2e", 8, {"spots": 4}, "g", "#fff", {}, [{**outcome, "value": "owlet"}, outcome])
    assert history_changes(first, first) == []
    assert history_changes(first, second) == [
        Change("sketch_hash", "1f", "2e"),
        Change("seed", 7, 8),
        Change("dial spots", 3, 4),
        Change("dial old", 1, None),
        Change("stream tint", 2, None),
        Change("outcome form", "hawk", ["owlet", "hawk"]),
    ]


@pytest.mark.parametrize("count", [1, 2, 7, 24, 100])
def test_a_contact_sheet_shows_every_picture_once(tmp_path: Path, count: int) -> None:
    frames = []
    for index in range(count):
        path = tmp_path / f"{index}.png"
        Image.new("RGB", (30, 40), (index + 1, 0, 255)).save(path)
        frames.append(Frame(path, str(index), "a note" * (index % 3)))
    sheet = np.asarray(contact_sheet(frames, "spots", f"{count} editions"))
    tints = {tuple(pixel.tolist()) for pixel in np.unique(sheet.reshape(-1, 3), axis=0) if pixel[1] == 0 and pixel[2] == 255}
    assert tints == {(index + 1, 0, 255) for index in range(count)}


@pytest.mark.parametrize("text", ["", "short", "a very long caption " * 20, "line\nbreak\ttab", "фонарь" * 40, "<b>&amp;"])
def test_a_caption_fits_on_its_line(text: str) -> None:
    _, draw = blank(300, 50)
    line = fitted(draw, text, font(20), 120)
    assert draw.textlength(line, font=font(20)) <= 120
    assert "\n" not in line
