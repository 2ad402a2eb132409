"""Every page as those meet it who see, hear or point otherwise: rules of WCAG, as axe-core looks for them."""

from __future__ import annotations

from pathlib import Path

from axe_playwright_python.sync_playwright import Axe  # type: ignore[import-untyped]
from playwright.sync_api import Page

from tests.conftest import Run, WriteSketch, made_series, shown_page


def assert_accessible(page: Page) -> None:
    """Nothing is found in light, and nothing in dark."""
    for _ in range(2):
        if page.locator("#theme").count():
            page.evaluate("document.getElementById('theme').click()")
        page.wait_for_timeout(250)  # until colours that change have changed
        found = Axe().run(page)
        told = [
            f"{each['id']}: {each['help']}: {node['html'][:200]} {node.get('failureSummary', '')[:300]}"
            for each in found.response["violations"]
            for node in each["nodes"][:3]
        ]
        assert told == []


def test_the_light_table(page: Page, run: Run, write_sketch: WriteSketch) -> None:
    made_series(write_sketch(), "1-9", 90)
    run("mark", "s", "1", "keep", "--note", "for the wall")
    run("mark", "s", "2", "drop")
    run("mark", "s", "3", "maybe")
    assert run("lightbox", "s").status == 0
    page.goto(Path("s-lightbox.html").resolve().as_uri())
    assert_accessible(page)
    page.select_option("#group", index=1)
    assert_accessible(page)
    page.locator("summary").click()
    assert_accessible(page)
    page.locator(".tile").first.click()
    assert_accessible(page)
    page.keyboard.press("Escape")
    page.locator(".tile").first.focus()
    page.keyboard.press("c")
    assert_accessible(page)
    page.click("#over")
    assert_accessible(page)
    page.keyboard.press("Escape")
    page.keyboard.press("v")
    assert_accessible(page)


def test_the_daybook(page: Page, run: Run, write_sketch: WriteSketch) -> None:
    sketch = write_sketch()
    for seed in ("1", "2"):
        assert run("proof", str(sketch), "--seed", seed, "--width", "90px").status == 0
    write_sketch(sketch.read_text().replace("9 if big else 3", "9 if big else 4"))
    assert run("proof", str(sketch), "--seed", "2", "--width", "90px").status == 0
    assert run("daybook", str(sketch)).status == 0
    page.goto(Path("spots-daybook/index.html").resolve().as_uri())
    assert_accessible(page)


def test_the_watched_page(page: Page, write_sketch: WriteSketch) -> None:
    with shown_page("watch", str(write_sketch()), "--page", "--no-daybook") as address:
        page.goto(address)
        page.wait_for_selector("img[src*='pictures/']", timeout=60_000)
        assert_accessible(page)
