"""The light table, in a real browser, as somebody clicks through it."""

from __future__ import annotations

import json
import re
import shutil
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest
from playwright.sync_api import Browser, Page, expect

from mothseed.series import series_editions
from mothseed.series.ledger import Ledger
from tests.conftest import Run, WriteSketch, made_series, shown_page

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
    page.select_option("#side-1", label="moth")
    expect(page.locator("#together figcaption").nth(1)).to_contain_text("moth")
    page.click("#over")
    page.locator("#cut").fill("20")
    clip = "figure => getComputedStyle(figure.querySelector('.window')).clipPath"
    assert page.locator("#together figure").nth(1).evaluate(clip) == "inset(0px 0px 0px 20%)"
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
    expect(page.locator("#count")).to_contain_text("1 kept, 1 maybe, 0 dropped")
    page.keyboard.press("ArrowDown")
    assert page.evaluate("document.activeElement.getAttribute('aria-label')").startswith("edition 8")
    page.keyboard.press("Enter")
    expect(page.locator("#single-title")).to_have_text("edition 8")
    page.keyboard.press("ArrowRight")
    expect(page.locator("#single-title")).to_have_text("edition 9")
    page.keyboard.press("Escape")
    page.keyboard.press("k")
    page.keyboard.press("n")
    expect(page.locator("#count")).to_contain_text("1 kept, 1 maybe")
    page.keyboard.press("u")
    expect(page.locator("#count"), "the last change is taken back").to_contain_text("2 kept, 1 maybe")
    page.keyboard.press("u")
    page.keyboard.press("u")
    expect(page.locator("#count")).to_contain_text("1 kept, 0 maybe")
    expect(page.locator("#undo")).to_be_disabled()
    page.keyboard.press("End")
    assert focused(page).startswith("edition moth")
    page.keyboard.press("/")
    page.keyboard.type("count=5 moth")
    assert titles(page) == ["moth"]


def test_up_to_four_are_compared_and_zoomed_together(page: Page) -> None:
    page.locator(".tile").first.focus()
    for _ in range(5):
        page.keyboard.press("x")
        page.keyboard.press("ArrowRight")
    expect(page.locator("#said")).to_have_text("4 chosen")
    page.keyboard.press("c")
    assert page.locator("#together figure").count() == 4
    assert [each.split(" · ")[0] for each in page.locator("#together figcaption").all_text_contents()] == ["2", "3", "4", "5"]
    page.keyboard.press("+")
    page.keyboard.press("ArrowLeft")
    looks = page.locator("#together img").evaluate_all("images => images.map(image => image.style.transform)")
    assert len({*looks}) == 1
    assert "scale(1.4)" in looks[0]
    page.keyboard.press("0")
    assert "scale(1)" in page.locator("#together img").first.evaluate("image => image.style.transform")
    page.keyboard.press("Escape")
    assert focused(page).startswith("edition 6")


def test_editions_are_sorted_by_likeness_and_lie_on_a_map(page: Page, run: Run) -> None:
    page.locator(".tile").nth(2).focus()
    page.keyboard.press("l")
    assert focused(page).startswith("edition 3")
    near = json.loads(run("variety", "s", "--like", "3", "--count", "11", "--json").out)["chosen"]
    distances = {str(each["seed"]): each["distance"] or 0.0 for each in near}
    ordered = [distances[title] for title in titles(page)]
    assert ordered == sorted(ordered), "as variety has it"
    page.keyboard.press("v")
    expect(page.locator("#map-view")).to_be_visible()
    assert page.evaluate("document.activeElement.id") == "map"
    for way in ("ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"):
        page.keyboard.press(way)
    expect(page.locator("#said")).to_contain_text("edition")
    page.keyboard.press("Enter")
    title = page.locator("#single-title").text_content()
    page.keyboard.press("m")
    page.keyboard.press("Escape")
    page.keyboard.press("v")
    assert focused(page).startswith(f"{title}, maybe")


def test_a_wall_in_groups_is_walked_through_line_by_line(page: Page) -> None:
    page.select_option("#group", "form")
    headings = page.locator("#wall h2").all_text_contents()
    assert [heading.rstrip("0123456789") for heading in headings] == ["form <em>round</em>", "form long"]
    assert (
        sum(
            int(heading.removeprefix(name))
            for heading, name in zip(headings, ("form <em>round</em>", "form long"), strict=True)
        )
        == 12
    )
    page.locator(".tile").first.focus()
    seen = [focused(page)]
    for _ in range(3):
        page.keyboard.press("ArrowDown")
        seen.append(focused(page))
    assert len({*seen}) >= 2


def until(page: Page, condition: str) -> None:
    """Wait until something is so; the page lets nobody make code of a text, so that it is asked again and again."""
    for _ in range(400):
        if page.evaluate(condition):
            return
        page.wait_for_timeout(25)
    pytest.fail(f"it is not so: {condition}")


def focused(page: Page) -> str:
    label: str = page.evaluate("document.activeElement.getAttribute('aria-label')")
    return label


def test_of_very_many_only_what_is_seen_is_there(
    browser: Browser, series: Path, run: Run, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("mothseed.cli.light_table.MOST_INSIDE", 5)
    assert run("lightbox", "s", "-o", "many.html").status == 0
    beside = Path("many-pictures")
    assert len(list(beside.iterdir())) == 12
    assert "data:image" not in Path("many.html").read_text()
    page = browser.new_page(viewport={"width": 420, "height": 300})
    page.goto(Path("many.html").resolve().as_uri())
    page.locator("#size").fill("460")
    until(page, "document.querySelectorAll('#wall .tile').length < 8")
    page.locator(".tile").first.focus()
    page.keyboard.press("End")
    assert focused(page).startswith("edition moth")
    until(page, "document.activeElement.querySelector('img').naturalWidth > 0")
    assert page.locator(".tile").first.locator("..").get_attribute("aria-setsize") == "12"
    assert page.locator("#wall .tile").count() < 8
    page.close()
    times = {path.name: path.stat().st_mtime_ns for path in beside.iterdir()}
    assert run("lightbox", "s", "-o", "many.html").status == 0
    assert {path.name: path.stat().st_mtime_ns for path in beside.iterdir()} == times, "what is there is not made again"
    assert run("pack", "s", "-o", "s.zip").status == 0
    with zipfile.ZipFile("s.zip") as archive:
        assert sum(name.startswith("s/lightbox-pictures/") for name in archive.namelist()) == 12


@pytest.fixture
def served(series: Path) -> Iterator[str]:
    with shown_page("lightbox", "s", "--serve") as address:
        yield address


def test_a_served_light_table_marks_in_the_series(browser: Browser, run: Run, series: Path, served: str) -> None:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    faults: list[str] = []
    page.on("pageerror", lambda fault: faults.append(str(fault)))
    page.goto(served)
    assert titles(page)[-1] == "moth"
    until(page, "document.querySelector('#wall img').naturalWidth > 0")
    page.locator(".tile").first.focus()
    with page.expect_response("**/marks") as answered:
        page.keyboard.press("k")
    assert answered.value.status == 204
    page.keyboard.press("Enter")
    expect(page.locator("#single-title")).to_have_text("edition 1")
    assert page.locator("#single-picture").evaluate("image => image.decode().then(() => image.naturalWidth)") == 90
    page.fill("#note", "für die Wand")
    with page.expect_response("**/marks"):
        page.click("#next")
    assert next((each.mark, each.note) for each in series_editions(series)) == ("keep", "für die Wand")
    page.keyboard.press("Escape")
    page.reload()
    expect(page.locator("#count")).to_contain_text("2 kept")
    with Ledger(series):
        page.locator(".tile").nth(1).focus()
        page.keyboard.press("d")
        expect(page.locator("#trouble")).to_contain_text("another run is making s")
    with page.expect_response("**/marks"):
        page.keyboard.press("d")
        page.keyboard.press("m")
    expect(page.locator("#trouble")).to_be_hidden()
    assert series_editions(series)[1].mark == "maybe", "what was not kept goes with the next"
    assert faults == []
    page.close()


def test_a_served_light_table_is_for_this_machine_and_its_own_page(served: str, series: Path) -> None:
    mark = {"marks": [{"seed": 2, "variant": "", "mark": "drop", "note": ""}]}
    assert httpx.post(f"{served}marks", json=mark, headers={"origin": "http://elsewhere.test"}).status_code == 403
    assert httpx.post(f"{served}marks", json=mark, headers={"host": "elsewhere.test"}).status_code == 400
    assert httpx.post(f"{served}marks", content=b"[" * 100_000).status_code == 400
    assert httpx.post(f"{served}marks", content=b" " * 5_000_000).status_code == 413
    answer = httpx.post(f"{served}marks", json={"marks": [{"seed": 99, "mark": "keep"}]})
    assert (answer.status_code, answer.json()["message"][:21]) == (400, "s has no edition ('',")
    assert httpx.get(f"{served}pictures/99.png").status_code == 404
    (series / "0001.png").unlink()
    (series / "0001.png").symlink_to("/etc/passwd")
    assert httpx.get(f"{served}pictures/0.png").status_code == 404
    assert all(not each.mark for each in series_editions(series) if each.seed != 3)


def test_marks_stay_until_they_are_saved(page: Page) -> None:
    page.locator(".tile").first.focus()
    page.keyboard.press("k")
    expect(page.locator("#count")).to_contain_text("2 kept")
    page.on("dialog", lambda dialog: dialog.accept())
    page.reload()
    expect(page.locator("#count")).to_contain_text("2 kept")
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
