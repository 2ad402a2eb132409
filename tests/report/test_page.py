"""The look of sheets: a head that has room whatever it says, and pictures on white."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from mothseed.arrays import BoolArray
from mothseed.report.page import MARGIN, Page, aspect_of, blank, fitted, font, header, on_white, opened, thumbnail, write_page
from mothseed.report.theme import DARK, LIGHT, Theme
from tests.conftest import pixels_of


def inked(page: Page) -> BoolArray:
    """Where something was drawn on a page."""
    bare = Image.new("RGB", page.image.size, page.theme.paper)
    drawn: BoolArray = (np.asarray(page.image) != np.asarray(bare)).any(axis=2)
    return drawn


@pytest.mark.parametrize("title", ["moths", "a very long name of a series of moths " * 9, "", "Nachtfalter über dem Moor"])
@pytest.mark.parametrize("subtitle", ["", "12 editions", "twelve of twelve thousand editions, sorted by lightness " * 5])
@pytest.mark.parametrize(("width", "theme"), [(400, LIGHT), (1400, LIGHT), (1400, DARK)], ids=["narrow", "wide", "dark"])
def test_a_head_stays_within_its_margins(title: str, subtitle: str, width: int, theme: Theme) -> None:
    page = blank(width, 200, theme)
    header(page, title, subtitle)
    ink = inked(page)
    columns = np.flatnonzero(ink.any(axis=0))
    assert columns[0] >= MARGIN - 3
    assert columns[-1] <= width - MARGIN + 1
    rule = ink[MARGIN + 48]
    assert rule[MARGIN : width - MARGIN].all(), "the line below goes from margin to margin"


def test_title_and_remark_do_not_touch() -> None:
    page = blank(700, 200, LIGHT)
    header(page, "moths at a lamp " * 9, "and a remark as long " * 9)
    above = inked(page)[: MARGIN + 44].any(axis=0)
    gaps = np.diff(np.flatnonzero(above))
    assert gaps.max() > 8
    alone = blank(700, 200, LIGHT)
    header(alone, "moths at a lamp " * 9, "")
    assert inked(alone)[: MARGIN + 44].any(axis=0).sum() > above.sum() * 0.5


@pytest.mark.parametrize("text", ["", "moth", "moth\n at  a lamp", "a long name " * 30, "ÄÖÜ Ωλ Жя"])
@pytest.mark.parametrize("width", [0, 20, 300])
def test_a_text_is_cut_to_its_room(text: str, width: int) -> None:
    draw = blank(10, 10, LIGHT).draw
    face = font(22)
    cut = fitted(draw, text, face, width)
    assert "\n" not in cut
    assert cut in (" ".join(text.split()), "…") or (cut.endswith("…") and draw.textlength(cut, font=face) <= max(width, 30))
    if width == 300 and len(text) < 15:
        assert cut == " ".join(text.split())


def test_a_transparent_picture_is_seen_on_white(tmp_path: Path) -> None:
    picture = Image.new("RGBA", (40, 20), (0, 0, 0, 0))
    picture.paste((200, 0, 0, 255), (0, 0, 20, 20))
    picture.save(tmp_path / "half.png")
    assert on_white(picture).getpixel((30, 10)) == (255, 255, 255)
    assert opened(tmp_path / "half.png").getpixel((5, 10)) == (200, 0, 0)
    assert aspect_of(tmp_path / "half.png") == 0.5
    small = thumbnail(tmp_path / "half.png", (10, 10))
    assert (small.size, small.mode) == ((10, 5), "RGB")


def test_a_page_is_written_whole_or_not_at_all(tmp_path: Path) -> None:
    page = blank(300, 120, LIGHT)
    header(page, "moths", "2 editions", margin=20)
    write_page(page.image, tmp_path / "page.png")
    assert np.array_equal(pixels_of(tmp_path / "page.png"), np.asarray(page.image))
    assert [path.name for path in tmp_path.iterdir()] == ["page.png"]
