"""The documentation as pages: every link leads somewhere, nothing comes from a network, and it is searched from disk."""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path
from urllib.parse import unquote

import pytest
from playwright.sync_api import Page

from tests.conftest import Run
from tests.places import ROOT
from tests.report.test_accessible import assert_accessible

pytestmark = pytest.mark.endurance


@pytest.fixture(scope="module")
def site(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The site, built by the project's own command."""
    folder = tmp_path_factory.mktemp("docs") / "site"
    subprocess.run([sys.executable, str(ROOT / "scripts" / "make_docs.py"), str(folder)], check=True)
    return folder


def links(text: str) -> set[str]:
    return {unquote(target) for target in re.findall(r'(?:href|src)="([^"#?]+)[^"]*"', text)}


def test_every_page_is_there_and_every_link_leads_somewhere(site: Path) -> None:
    pages = {path.relative_to(site).as_posix() for path in site.rglob("*.html")}
    names = [path.relative_to(ROOT / "docs").with_suffix(".html").as_posix() for path in (ROOT / "docs").rglob("*.md")]
    assert {name.replace("/README", "/index").replace("README", "all") for name in names} <= pages
    frame = links((site / "index.html").read_text("utf-8"))
    assert pages - frame <= {"index.html", "search.html"}, "all pages are on the list beside each"
    for place in sorted(pages):
        text = (site / place).read_text("utf-8")
        for target in links(text):
            if "://" not in target and not target.startswith("data:"):
                assert ((site / place).parent / target).exists(), f"{place}: {target}"
        for target in re.findall(r'<(?:img|script|link)[^>]+(?:src|href)="([^"]+)"', text):
            assert "://" not in target, f"{place} is not whole without a network: {target}"
    assert sum(path.stat().st_size for path in site.rglob("*") if path.is_file()) < 15e6


def test_it_is_read_and_searched_from_disk_by_everybody(site: Path, page: Page) -> None:
    faults: list[str] = []
    page.on("pageerror", lambda fault: faults.append(str(fault)))
    page.goto((site / "guide" / "index.html").as_uri())
    assert page.evaluate("document.fonts.ready.then(() => document.fonts.check('17px \"Moth Seed Book\"'))")
    assert_accessible(page)
    page.keyboard.press("/")
    page.keyboard.type("soft shadow")
    page.keyboard.press("Enter")
    page.wait_for_selector(".search li")
    assert page.input_value("#find") == "soft shadow"
    assert "Your first hour" in page.inner_text(".search")
    assert_accessible(page)
    with page.expect_navigation(wait_until="load"):
        page.click(".search li a")
    assert "shadow" in page.inner_text("main").casefold()
    assert faults == []


def test_the_command_opens_it_where_there_is_a_screen(site: Path, run: Run, monkeypatch: pytest.MonkeyPatch) -> None:
    opened: list[str] = []
    monkeypatch.setattr("webbrowser.open", opened.append)
    monkeypatch.setattr("mothseed.cli.docs._SITE", site)
    monkeypatch.delenv("DISPLAY", raising=False)
    monkeypatch.delenv("WAYLAND_DISPLAY", raising=False)
    monkeypatch.setattr("sys.platform", "linux")
    home = (site / "index.html").as_uri()
    assert run("docs").out == f"{home}\n"
    assert opened == []
    monkeypatch.setenv("DISPLAY", ":9")
    assert run("docs", "--no-open").out == f"{home}\n"
    assert opened == []
    assert run("docs", "soft", "shadow & glow").out == f"{(site / 'search.html').as_uri()}?q=soft+shadow+%26+glow\n"
    assert json.loads(run("docs", "--json").out) == {"page": home}
    assert opened == [f"{(site / 'search.html').as_uri()}?q=soft+shadow+%26+glow", home]
    monkeypatch.setattr("mothseed.cli.docs._SITE", site / "nowhere")
    answer = run("docs")
    assert (answer.status, answer.out) == (2, "")
    assert "is not part of this installation" in answer.err
    assert "make_docs.py" in answer.err
