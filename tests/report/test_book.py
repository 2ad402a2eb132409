"""A series bound as a book: what its pages show, and what goes with it."""

from __future__ import annotations

import io
import json
import os
import shutil
import subprocess
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader

from mothseed.arrays import FloatArray
from mothseed.series import series_editions
from tests.conftest import Run, WriteSketch, made_series, pixels_of

DPI = 72


@pytest.fixture
def series(run: Run, write_sketch: WriteSketch) -> Path:
    folder = made_series(write_sketch(), "1-7", 300)
    assert run("mark", "s", "2", "keep", "--note", "für die Wand \u68ee").status == 0
    return folder


def outline_of(book: PdfReader) -> list[tuple[str, int]]:
    """The names in the outline of a book, each with the page that it leads to, from 0 on."""
    entries = [each for each in book.outline if not isinstance(each, list)]
    return [(str(each["/Title"]), book.get_destination_page_number(each) or 0) for each in entries]


def shown(page: int, name: str = "s-book.pdf") -> FloatArray:
    """A page as poppler shows it, from 1 on: float64 (height, width, 3)."""
    program = shutil.which("pdftoppm")
    if program is None and not os.environ.get("CI"):
        pytest.skip("poppler is not installed; Debian has it as the package poppler-utils")
    line = [str(program), "-r", str(DPI), "-f", str(page), "-l", str(page), "-png", name]
    done = subprocess.run(line, check=True, capture_output=True)
    return np.asarray(Image.open(io.BytesIO(done.stdout)).convert("RGB")).astype(np.float64)


def picture_on(page: FloatArray, picture: Path) -> float:
    """How far, on the mean, a page is from a picture in the window that all pages have it in."""
    across = 210 - 36
    with Image.open(picture) as image:
        aspect = image.height / image.width
        width, height = (round(side / 25.4 * DPI) for side in (across, across * aspect))
        small = np.asarray(image.convert("RGB").resize((width, height), Image.Resampling.BOX)).astype(np.float64)
    left, top = round(18 / 25.4 * DPI), round((18 + (297 - 36 - 22 - across * aspect) * 0.4) / 25.4 * DPI)
    off = np.abs(page[top : top + height, left : left + width] - small)
    return float(off.mean())


def test_each_edition_has_a_page_of_its_own_with_its_picture(run: Run, series: Path) -> None:
    report = json.loads(run("book", "s", "--title", "Spots", "--json").out)
    assert (report["file"], report["editions"]) == ("s-book.pdf", 7)
    book = PdfReader("s-book.pdf")
    assert len(book.pages) == 1 + 7 + 1 + 1
    assert outline_of(book) == [*((str(seed), seed) for seed in range(1, 8)), ("all editions", 8), ("colophon", 9)]
    assert all(
        abs(float(page.mediabox.width) - 595.28) < 1 and abs(float(page.mediabox.height) - 841.89) < 1 for page in book.pages
    )
    assert book.metadata
    assert book.metadata.title == "Spots"
    for seed in (1, 5):
        page = shown(seed + 1)
        assert picture_on(page, series / f"000{seed}.png") < 4 < picture_on(page, series / f"000{seed + 1}.png")
    assert shown(1).min() < 120, "the title is there"


def test_what_is_known_of_the_editions_goes_with_it(run: Run, series: Path) -> None:
    assert run("book", "s").status == 0
    first = Path("s-book.pdf").read_bytes()
    (content,) = PdfReader("s-book.pdf").attachments["editions.json"]
    kept = json.loads(content)
    assert [(each["seed"], each["pixel_hash"]) for each in kept] == [
        (each.seed, each.pixel_hash) for each in series_editions(series)
    ]
    assert kept[1]["note"] == "für die Wand \u68ee"
    assert kept[0].keys() >= {"dials", "sources", "sketch", "renderer", "fingerprint"}
    assert run("book", "s").status == 0
    assert Path("s-book.pdf").read_bytes() == first, "one series gives one book"


def test_editions_that_are_there_as_shapes_are_bound_as_shapes(run: Run, series: Path) -> None:
    assert run("edition", "spots.py", "--seeds", "1-2", "--width", "300px", "--format", "pdf", "-o", "p").status == 0
    assert run("book", "p").status == 0
    assert picture_on(shown(2, "p-book.pdf"), Path("p/0001.png")) < 4
    resources = PdfReader("p-book.pdf").pages[1]["/Resources"]
    assert resources["/XObject"]["/Edition"]["/Subtype"] == "/Form"  # type: ignore[index]
    Path("p/pdf").rename("elsewhere")
    Path("p/pdf").symlink_to(Path("elsewhere").resolve())
    assert run("book", "p", "-o", "linked.pdf").status == 0
    assert "/Edition" not in PdfReader("linked.pdf").pages[1]["/Resources"]["/XObject"], "no link is followed"  # type: ignore[index]
    Path("p/pdf").unlink()
    Path("elsewhere").rename("p/pdf")
    Path("p/pdf/0002.pdf").write_bytes(b"%PDF-1.7 cut")
    answer = run("book", "p")
    assert answer.status == 1
    assert "0002.pdf is not a whole picture" in answer.err
    assert PdfReader("p-book.pdf").pages[1], "the book that was there is whole"


def test_a_book_is_of_those_that_were_chosen(run: Run, series: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    assert run("book", "s", "--marked", "keep", "--paper", "A3", "-o", "one.pdf").status == 0
    book = PdfReader("one.pdf")
    assert outline_of(book)[0] == ("2", 1)
    assert round(float(book.pages[0].mediabox.width) / 72 * 25.4) == 297
    (series / "0003.png").unlink()
    assert "0003.png: its picture is missing" in run("book", "s").err
    assert len(PdfReader("s-book.pdf").pages) == 9
    monkeypatch.setattr("mothseed.cli.book._MOST", 3)
    answer = run("book", "s")
    assert (answer.status, "too many for one book" in answer.err, "--marked" in answer.err) == (2, True, True)


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["s", "-o", "book.png"], "book.png is not a .pdf file"),
        (["s", "--where", "seed = 99"], "no edition of s matches"),
        (["nothing"], "there is no series nothing"),
        (["s", "--where", "spot = 1"], "asks for spot"),
    ],
)
def test_books_that_cannot_be_are_told(run: Run, series: Path, words: list[str], message: str) -> None:
    answer = run("book", *words)
    assert answer.status != 0
    assert message in answer.err


@pytest.mark.parametrize("title", ["", "\u68ee\u306e\u86fe", "a\tb\x00c", "Long " * 60])
def test_any_title_can_be_set(run: Run, series: Path, title: str) -> None:
    assert run("book", "s", "--where", "seed = 1", "--title", title).status == 0
    assert shown(1).shape == (842, 596, 3)


def test_very_many_hashes_take_as_many_pages_as_they_need(run: Run, write_sketch: WriteSketch) -> None:
    made_series(write_sketch(), "1-80", 20)
    assert run("book", "s").status == 0
    assert len(PdfReader("s-book.pdf").pages) == 1 + 80 + 3 + 2
    assert pixels_of("s/0001.png").shape[1] == 20
