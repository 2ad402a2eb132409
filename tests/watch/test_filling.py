"""A series that is shown while it is made: what the page is told, and that it holds nobody up."""

from __future__ import annotations

import json
import subprocess
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import httpx
import pytest
from playwright.sync_api import Browser, expect

from mothseed.report.small_pictures import small_picture
from mothseed.series import Edition, series_editions
from mothseed.watch.filling import Filling
from tests.conftest import INSTALLED, Run, WriteSketch
from tests.report.test_accessible import assert_accessible

SOME_FAIL = """
    from mothseed import artwork
    import time

    @artwork(width=60, height=40, paper="#f4efe4")
    def spots(sheet, chance):
        radius = chance.between(2, 18)
        time.sleep(0.1)
        if radius > 16:
            raise ValueError("<b>too</b> large")
        sheet.circle(30, 20, radius, fill="#c9663d")
"""


@contextmanager
def being_made(*more: str) -> Iterator[tuple[str, subprocess.Popen[str]]]:
    line = [str(INSTALLED), "edition", "spots.py", "--width", "90px", "-o", "s", "--jobs", "1", "--page", "--json", *more]
    with subprocess.Popen(line, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True) as process:
        try:
            assert process.stdout
            yield json.loads(process.stdout.readline())["page"], process
        finally:
            process.kill()


def report_of(process: subprocess.Popen[str]) -> dict[str, Any]:
    assert process.stdout
    found: dict[str, Any] = json.loads(process.stdout.read())
    assert process.wait(30) == (1 if found["failed"] else 0)
    return found


def test_a_page_is_told_of_everything_once_and_of_the_end(write_sketch: WriteSketch, run: Run) -> None:
    folder = write_sketch(SOME_FAIL).with_name("s")
    made: list[str] = []
    failed: list[str] = []
    with being_made("--seeds", "1-24") as (address, process), httpx.Client(base_url=address) as page:
        while True:
            state = page.get("state", params={"made": len(made), "failed": len(failed)}).json()
            made += state["made"]
            failed += state["failed"]
            if state["finished"]:
                break
            time.sleep(0.05)
        small = page.get("small/0.webp")
        large = page.get("pictures/0.png")
        assert page.get("pictures/99.png").status_code == 404
        assert page.get("state?made=x").status_code == 400
        report = report_of(process)
    file = next(folder / edition.file for edition in series_editions(folder) if edition.title == made[0])
    assert large.content == file.read_bytes()
    assert small.content == small_picture(file, 320)
    assert report["failed"], "some of them have to fail"
    assert sorted(map(int, made)) == sorted({*range(1, 25)} - {each["seed"] for each in report["failed"]})
    assert sorted(failed) == sorted(f"seed {each['seed']}: {each['error']}" for each in report["failed"])
    assert state["told"] == f"{len(made)} made, {len(failed)} failed"


def test_the_wall_fills_and_tells_what_failed(browser: Browser, write_sketch: WriteSketch, run: Run) -> None:
    write_sketch(SOME_FAIL)
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    faults: list[str] = []
    page.on("pageerror", lambda fault: faults.append(str(fault)))
    with being_made("--seeds", "1-40") as (address, process):
        page.goto(address)
        expect(page.locator("#failures li").first).to_contain_text("<b>too</b> large")
        page.locator(".tile").last.click()
        expect(page.locator("#single-title")).to_contain_text("edition")
        page.keyboard.press("ArrowRight")
        page.keyboard.press("Escape")
        assert_accessible(page)
        report = report_of(process)
    expect(page.locator("#told")).to_have_text(f"{report['made']} made, {len(report['failed'])} failed")
    expect(page.locator(".tile")).to_have_count(report["made"])
    assert page.locator("#bar").evaluate("bar => bar.value === bar.max")
    assert faults == []
    page.close()


def test_without_anybody_who_looks_it_ends_at_once(write_sketch: WriteSketch, run: Run) -> None:
    write_sketch()
    with being_made("--seeds", "1-3") as (_, process):
        assert report_of(process)["made"] == 3
    with being_made("--seeds", "1-3") as (_, process):
        assert report_of(process)["kept"] == 3


@pytest.mark.parametrize(("known", "new"), [(0, 200), (150, 200), (200, 150), (350, 0), (999, 0)])
def test_so_much_is_told_at_once(tmp_path: Path, known: int, new: int) -> None:
    filling = Filling(tmp_path, total=350, finished=True)
    filling.add([Edition(seed=seed, file=f"{seed:04d}.png") for seed in range(350)], "350 of 350")
    state = filling.state(known, 0)
    assert len(state["made"]) == new
    assert state["finished"] == (known + new >= 350)
    assert filling.seen.is_set() == state["finished"]
