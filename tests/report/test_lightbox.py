"""The light table, in a real browser, as somebody clicks through it."""

from __future__ import annotations

import json
import re
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from mothseed.series import series_editions
from tests.conftest import Run, WriteSketch, made_series

HOSTILE = "</script><b onmouseover='x()'>&amp; \"wall\" ü"


@pytest.fixture
def series(run: Run, write_sketch: WriteSketch) -> Path:
    sketch = write_sketch("""
        from mothseed import artwork, dial

        @artwork(width=60, height=40, paper="#f4efe4")
        def spots(sheet, chance, *, count=dial(5, 0, 50), caption=dial("plain", choices=["plain", "</td><i>odd</i>"])):
            form = chance("form").pick(["<em>round</em>", "long"], label="form")
            for index in range(count):
                own = chance("spot", index)
                sheet.circle(own.between(0, 60), own.between(0, 40), own.between(1, 9), fill="#c9663d")
    """)  # fmt: skip
    folder = made_series(sketch, "1-11,moth", 90, caption="</td><i>odd</i>")
    run("mark", "s", "3", "keep", "--note", HOSTILE)
    assert run("lightbox", "s").status == 0
    return folder


@pytest.fixture
def page(browser: Browser, series: Path) -> Iterator[Page]:
    opened = browser.new_page(viewport={"width": 1280, "height": 800})
    faults: list[str] = []
    opened.on("pageerror", lambda fault: faults.append(str(fault)))
    opened.on("console", lambda message: faults.append(message.text) if message.type == "error" else None)
    opened.on("request", lambda request: faults.append(request.url) if request.url.startswith("http") else None)
    opened.goto(Path("s-lightbox.html").resolve().as_uri())
    yield opened
    assert faults == [], "nothing is amiss, and nothing is loaded"
    opened.close()


def titles(page: Page) -> list[str]:
    return page.locator("#wall .tile .under > span:first-child").all_text_contents()


def test_from_the_wall_to_the_ledger(page: Page, run: Run, series: Path) -> None:
    seeds = [*map(str, range(1, 12)), "moth"]
    assert titles(page) == seeds
    page.select_option("#sort", "coverage")
    page.click("#way")
    measured = {str(edition.seed): edition.measures["coverage"] for edition in series_editions(series)}
    assert titles(page) == sorted(seeds, key=lambda seed: (-measured[seed], seeds.index(seed)))

    page.locator(".tile").first.click()
    first = titles(page)[0]
    expect(page.locator("#single-title")).to_have_text(f"edition {first}")
    assert page.locator("#single-picture").evaluate("image => [image.naturalWidth, image.src.slice(0, 5)]") == [90, "file:"]
    page.click("#single [data-set=keep]")
    page.fill("#note", "für die Wand <3")
    page.click("#next")
    page.keyboard.press("d")
    expect(page.locator("#single [data-set=drop]")).to_have_attribute("aria-pressed", "true")
    second = titles(page)[1]
    page.click("#beside")
    expect(page.locator("#pair")).to_be_visible()
    page.select_option("#right", label="moth")
    page.locator("#cut").fill("20")
    assert page.locator("#right-picture").evaluate("image => image.style.clipPath") == "inset(0px 0px 0px 20%)"
    page.keyboard.press("Escape")
    expect(page.locator("#pair")).to_be_hidden()

    page.select_option("#by-mark", "drop")
    assert titles(page) == [second]
    page.select_option("#by-mark", "")
    page.fill("#find", "wand")
    assert titles(page) == [first]
    page.fill("#find", "")
    with page.expect_download() as saved:
        page.click("#save")
    saved.value.save_as("marks.json")
    assert saved.value.suggested_filename == "s-marks.json"
    assert run("mark", "s", "--from", "marks.json").status == 0
    marks = {str(edition.seed): (edition.mark, edition.note) for edition in series_editions(series) if edition.mark}
    assert marks == {first: ("keep", "für die Wand <3"), second: ("drop", ""), "3": marks["3"]}


def test_names_with_markup_in_them_are_text(page: Page) -> None:
    assert page.locator("#wall em, #wall b, main i").count() == 0
    page.get_by_role("button", name=re.compile("edition 3, keep")).click()
    assert page.locator("#note").input_value() == HOSTILE
    assert "<em>round</em>" in (page.locator("#filters").text_content() or "")
    assert "</td><i>odd</i>" in page.locator("#facts").inner_text()
    assert page.locator("#facts i, #facts em").count() == 0


def test_the_keyboard_does_it_all(page: Page) -> None:
    page.locator(".tile").first.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("m")
    expect(page.locator("#said")).to_have_text("edition 2: maybe")
    assert "1 kept, 1 maybe, 0 dropped" in (page.locator("#count").text_content() or "")
    page.keyboard.press("ArrowDown")
    assert page.evaluate("document.activeElement.getAttribute('aria-label')").startswith("edition 8")
    page.keyboard.press("Enter")
    expect(page.locator("#single-title")).to_have_text("edition 8")
    page.keyboard.press("ArrowRight")
    expect(page.locator("#single-title")).to_have_text("edition 9")
    page.keyboard.press("Escape")
    page.keyboard.press("c")
    assert page.evaluate("document.activeElement.id") == "cut"
    page.keyboard.press("Escape")
    page.keyboard.press("k")
    page.keyboard.press("n")
    assert "1 kept, 1 maybe" in (page.locator("#count").text_content() or "")


def test_marks_stay_until_they_are_saved(page: Page) -> None:
    page.locator(".tile").first.focus()
    page.keyboard.press("k")
    page.on("dialog", lambda dialog: dialog.accept())
    page.reload()
    assert "2 kept" in (page.locator("#count").text_content() or "")
    expect(page.locator("#save")).to_have_text("save marks •")


def test_all_controls_have_names_and_words_can_be_read(page: Page) -> None:
    unnamed = page.evaluate("""() => [...document.querySelectorAll('button, select, input, textarea')].filter(each =>
        !(each.textContent.trim() || each.getAttribute('aria-label') || each.labels?.length)).map(each => each.outerHTML)""")
    assert unnamed == []
    for _ in range(2):
        colours = page.evaluate("""() => { const style = getComputedStyle(document.documentElement);
            return ['paper', 'ink', 'muted', 'accent', 'keep', 'maybe', 'drop']
                .map(name => style.getPropertyValue('--' + name)) }""")
        paper, *inks = [_luminance(colour) for colour in colours]
        for ink in inks:
            assert (max(paper, ink) + 0.05) / (min(paper, ink) + 0.05) >= 4.5, colours
        page.click("#theme")


def _luminance(css: str) -> float:
    """Relative luminance as WCAG 2.2 defines it."""
    parts = [int(css.strip()[place : place + 2], 16) / 255 for place in (1, 3, 5)]
    linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def test_without_its_series_the_page_shows_what_is_in_it(browser: Browser, series: Path, tmp_path: Path) -> None:
    shutil.move("s-lightbox.html", tmp_path / "elsewhere.html")
    (tmp_path / "s").rename(tmp_path / "gone")
    page = browser.new_page()
    page.goto((tmp_path / "elsewhere.html").as_uri())
    page.locator(".tile").nth(2).click()
    expect(page.locator("#single-picture")).to_have_attribute("src", re.compile("^data:image/webp"))
    page.close()


@pytest.mark.parametrize(
    ("words", "message"),
    [(["s", "-o", "page.txt"], "is not an .html file"), (["s", "--where", "seed = 99"], "matches")],
)
def test_pages_that_cannot_be_are_told(run: Run, series: Path, words: list[str], message: str) -> None:
    assert message in run("lightbox", *words).err


def test_only_what_was_asked_for_is_in_the_page(run: Run, series: Path) -> None:
    report: Any = json.loads(run("lightbox", "s", "--marked", "keep", "-o", "kept.html", "--json").out)
    assert (report["editions"], report["file"]) == (1, "kept.html")
    (series / "0003.png").unlink()
    assert run("lightbox", "s", "--marked", "keep").status == 1
