from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from scipy import ndimage

from mothseed.arrays import FloatArray
from mothseed.chance import Outcome
from mothseed.compare import Change, history_changes, paired
from mothseed.compare.scale import SheetSize, at_one_scale
from mothseed.compare.structure import structural_similarity
from mothseed.faults import UsageError
from mothseed.report.contact import Frame, contact_sheet
from mothseed.report.overlay import overlaid
from mothseed.report.page import blank, fitted, font
from mothseed.report.theme import LIGHT
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
    assert (pair.first["lightness"], pair.second["lightness"]) == pytest.approx((0, 1), abs=1e-6)


def test_the_difference_lies_where_the_pictures_differ() -> None:
    first, second = flat("#808080"), flat("#808080").copy()
    second[2:4, 3:5] = (255, 0, 0)
    difference = paired(first, second).difference
    assert (np.argwhere(difference > 0.02) == [[2, 3], [2, 4], [3, 3], [3, 4]]).all()


def test_transparency_is_compared_as_on_white() -> None:
    clear = np.zeros((4, 4, 4), np.uint8)
    images = at_one_scale((clear, flat("#ffffff", (4, 4))), (None, None))
    assert paired(*images).largest == pytest.approx(0, abs=1e-6)


def test_pictures_of_one_shape_come_to_one_size() -> None:
    large, small = at_one_scale((flat("red", (80, 60)), flat("red", (8, 6))), (None, None))
    assert large.shape == small.shape == (6, 8, 3)
    with pytest.raises(UsageError, match="unlike shape cannot be compared: 80 x 60 and 60 x 80 px"):
        at_one_scale((flat("red", (80, 60)), flat("red", (60, 80))), (None, None))


def test_pictures_whose_sheets_are_known_are_compared_at_their_scale() -> None:
    sheets = SheetSize(100, 50, "mm"), SheetSize(5, 10, "cm")
    first, second = at_one_scale((flat("red", (400, 200)), flat("blue", (100, 200))), sheets)
    assert (first.shape, second.shape) == ((100, 200, 3), (200, 100, 3)), "two pixels to a millimetre in both"
    assert paired(first, second).difference.shape == (100, 100)


@pytest.mark.parametrize("values", [[], [1, 2], [0, 5, "mm"], [1, 5, "ell"], ["1", 5, "mm"], [float("nan"), 1, "mm"]])
def test_a_sheet_that_makes_no_sense_is_none(values: list[object]) -> None:
    assert SheetSize.of(values) is None
    assert SheetSize.of([180, 240.5, "mm"]) == (180, 240.5, "mm")


def test_structural_similarity_is_that_of_its_paper() -> None:
    random = np.random.default_rng(5)
    x, y = random.random((60, 80)), random.random((60, 80))
    y = 0.6 * x + 0.4 * y

    def mean(image: FloatArray) -> FloatArray:
        blurred = ndimage.gaussian_filter(image, 1.5, truncate=5 / 1.5, mode="constant")
        return np.asarray(blurred[5:-5, 5:-5])

    covariance = mean(x * y) - mean(x) * mean(y)
    spreads = mean(x * x) - mean(x) ** 2 + mean(y * y) - mean(y) ** 2
    expected = (2 * mean(x) * mean(y) + 1e-4) * (2 * covariance + 9e-4)
    expected /= (mean(x) ** 2 + mean(y) ** 2 + 1e-4) * (spreads + 9e-4)
    assert structural_similarity(x, y) == pytest.approx(expected.mean(), abs=1e-9)
    assert structural_similarity(x, x) == pytest.approx(1)
    assert structural_similarity(x[:3, :2], x[:3, :2]) == pytest.approx(1)
    assert structural_similarity(x[:1, :1], 1 - x[:1, :1]) < 1
    large = np.repeat(np.repeat(x, 9, axis=0), 9, axis=1)
    assert structural_similarity(large, np.roll(large, 1, axis=1)) > 0.9


def test_laid_over_each_other_each_alone_has_its_colour() -> None:
    first, second = flat("white", (60, 40)).copy(), flat("white", (60, 40)).copy()
    first[:, :20] = second[:, 10:30] = 0
    seen = np.asarray(overlaid(first, second)).astype(int)
    assert seen[5, 5, 0] < seen[5, 5, 1], "teal"
    assert seen[5, 25, 0] > seen[5, 25, 1], "red"
    assert np.ptp(seen[5, 15]) == 0
    assert (seen[5, 50] == 255).all()


def test_what_was_changed_is_told_by_name() -> None:
    hawk, owlet = Outcome("form", "hawk"), Outcome("form", "owlet")
    first = History(sketch_hash="1f", seed=7, dials={"spots": 3, "old": 1}, reseeds={"tint": 2}, outcomes=(hawk,))
    second = History(sketch_hash="2e", seed=8, dials={"spots": 4}, outcomes=(owlet, hawk))
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
    tints = np.unique(sheet[(sheet[..., 1] == 0) & (sheet[..., 2] == 255)][:, 0])
    assert tints.tolist() == [index + 1 for index in range(count)]


@pytest.mark.parametrize("text", ["", "short", "a very long caption " * 20, "line\nbreak\ttab", "фонарь" * 40, "<b>&amp;"])
def test_a_caption_fits_on_its_line(text: str) -> None:
    draw = blank(300, 50, LIGHT).draw
    line = fitted(draw, text, font(20), 120)
    assert draw.textlength(line, font=font(20)) <= 120
    assert "\n" not in line
