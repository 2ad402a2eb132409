from __future__ import annotations

import json
import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from mothseed.report.contact import Frame, Layout, Section, contact_pages
from mothseed.report.theme import DARK, LIGHT, Theme
from tests.conftest import Run, WriteSketch, pixels_of


@pytest.fixture
def series(run: Run, write_sketch: WriteSketch) -> Run:
    """A series of six, of which some are marked."""
    write_sketch()
    run("edition", "spots.py", "--seeds", "1-6", "--width", "120px", "--jobs", "1", "-o", "s")
    run("mark", "s", "1-2", "keep")
    run("mark", "s", "3", "drop")
    return run


def painted(tmp_path: Path, count: int, size: tuple[int, int] = (60, 40)) -> tuple[Frame, ...]:
    """Frames of pictures each of one colour, which is its number."""
    frames = []
    for number in range(count):
        path = tmp_path / f"{number}.png"
        Image.new("RGB", size, (10 + number, 200, 30)).save(path)
        frames.append(Frame(path, str(number)))
    return tuple(frames)


def numbers_on(page: Image.Image) -> list[int]:
    """Which of the painted pictures are on a page, from left to right and down."""
    pixels = np.asarray(page).astype(int)
    found = (pixels[..., 1] == 200) & (pixels[..., 2] == 30)
    order: dict[int, tuple[int, int]] = {}
    for y, x in zip(*np.nonzero(found), strict=True):
        order.setdefault(int(pixels[y, x, 0]) - 10, (int(y), int(x)))
    return sorted(order, key=lambda number: order[number])


def test_all_pictures_are_on_the_pages_in_order(tmp_path: Path) -> None:
    frames = painted(tmp_path, 23)
    (whole,) = contact_pages([Section("", frames)], "t")
    assert numbers_on(whole) == list(range(23))
    pages = list(contact_pages([Section("", frames)], "t", per_page=10))
    assert [number for page in pages for number in numbers_on(page)] == list(range(23))
    assert all(len(numbers_on(page)) <= 10 for page in pages)


@pytest.mark.parametrize("per_page", [1, 4, 9, 30])
def test_pages_of_paper_are_of_their_size_and_hold_what_was_asked(tmp_path: Path, per_page: int) -> None:
    frames = painted(tmp_path, 14, (40, 56))
    layout = Layout(827, 1169, 47)
    pages = list(contact_pages([Section("a", frames[:5]), Section("b", frames[5:])], "t", "s", layout, per_page))
    assert {page.size for page in pages} == {(827, 1169)}
    assert [number for page in pages for number in numbers_on(page)] == list(range(14))
    for page in pages:
        assert len(numbers_on(page)) <= per_page
        margin = np.asarray(page)[:, -46:]
        assert (margin == margin[0, 0]).all(), "nothing is in the margin"


@pytest.mark.parametrize("theme", [LIGHT, DARK], ids=["light", "dark"])
def test_a_mark_is_a_dot_of_its_colour(tmp_path: Path, theme: Theme) -> None:
    (frame,) = painted(tmp_path, 1)
    colours = {"keep": theme.keep, "maybe": theme.maybe, "drop": theme.drop}
    for mark in (*colours, ""):
        (page,) = contact_pages([Section("", (Frame(frame.file, "7", mark=mark),))], "t", theme=theme)
        dots = {"#{:02x}{:02x}{:02x}".format(*pixel) for pixel in np.asarray(page).reshape(-1, 3).tolist()}
        assert dots & {*colours.values()} == {colours[mark]} if mark else not dots & {*colours.values()}


def test_a_sheet_is_sorted_filtered_grouped_and_paged(series: Run) -> None:
    assert series("contact", "s").out == "s-contact.png\n"
    marked = json.loads(series("contact", "s", "--marked", "keep", "-o", "kept.png", "--json").out)
    assert marked == {"files": ["kept.png"], "pages": 1, "editions": 2}
    grouped = series(
        "contact", "s", "--group", "mark", "--sort", "coverage desc", "--caption", "{coverage} {nix}", "-o", "g.png"
    )
    assert grouped.status == 0, grouped.err
    assert pixels_of("g.png").shape[0] > pixels_of("kept.png").shape[0]
    pages = series("contact", "s", "--per-page", "2", "-o", "p.png")
    assert pages.out.split() == ["p-1.png", "p-2.png", "p-3.png"]
    assert all(Path(name).exists() for name in pages.out.split())


def test_a_pdf_has_its_pages_at_their_physical_size(series: Run) -> None:
    answer = series("contact", "s", "--per-page", "4", "--paper", "A3", "-o", "s.pdf", "--json")
    assert json.loads(answer.out)["pages"] == 2
    content = Path("s.pdf").read_bytes()
    assert content.startswith(b"%PDF-")
    boxes = re.findall(rb"/MediaBox \[ ?0 0 ([\d.]+) ([\d.]+) ?\]", content)
    assert [(round(float(w) / 72 * 25.4), round(float(h) / 72 * 25.4)) for w, h in boxes] == [(297, 420)] * 2


@pytest.mark.parametrize(
    ("arguments", "status", "words"),
    [
        (["s", "--where", "seed > 99"], 1, "no edition of s matches"),
        (["s", "--marked", "maybe"], 1, "no edition of s matches"),
        (["s", "--group", "nix"], 2, "there is no column nix"),
        (["s", "--sort", "nix desc"], 2, "there is no column nix"),
        (["s", "-o", "s.gif"], 2, "is not the name of a PNG or PDF file"),
        (["s", "--per-page", "0"], 2, "a whole number, 1 or more"),
        (["nowhere"], 1, "is no series"),
    ],
)
def test_a_sheet_that_cannot_be_made_is_told(series: Run, arguments: list[str], status: int, words: str) -> None:
    answer = series("contact", *arguments)
    assert (answer.status, words in answer.err) == (status, True), answer.err
