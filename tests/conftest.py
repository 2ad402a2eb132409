"""What tests share: sketches in a temporary folder, and the command line in-process and as installed."""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import signal
import subprocess
import sys
import textwrap
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pytest
from hypothesis import settings
from PIL import Image
from playwright.sync_api import Browser, Page, expect, sync_playwright

from mothseed.arrays import ByteArray
from mothseed.cli import main
from mothseed.making import prepare_kernels
from mothseed.series import Request, Variant, in_this_process, make_series
from mothseed.sketch import Recipe, load_sketch
from mothseed.sketch.seeds import parse_seeds

if signal.getsignal(signal.SIGINT) is signal.SIG_IGN:
    # What runs in the background has Ctrl-C ignored, and would hand that on to the programs that tests start and end by it.
    signal.signal(signal.SIGINT, signal.default_int_handler)

expect.set_options(timeout=60_000)  # what is waited for comes; on a busy machine, later

settings.register_profile("steady", derandomize=True, deadline=None, max_examples=60)
settings.load_profile("steady")

SPOTS = """
    from mothseed import artwork, dial

    @artwork(width=60, height=40, paper="#f4efe4")
    def spots(sheet, chance, *, count=dial(5, 0, 50, help="how many"), big=dial(False)):
        for index in range(count):
            own = chance("spot", index)
            tint = own.pick(["#1b2a41", "#c9663d", "#e8b44f"], weights=[5, 3, 1], label="tint")
            sheet.circle(own.between(0, 60), own.between(0, 40), 9 if big else 3, fill=tint, opacity=0.7)
"""

CHROMIUM = next(filter(None, map(shutil.which, ("chromium", "chromium-browser", "google-chrome"))), None)

WriteSketch = Callable[..., Path]


def pixels_of(path: str | Path) -> ByteArray:
    """The pixels of an image file."""
    with Image.open(path) as image:
        return np.asarray(image)


@pytest.fixture
def write_sketch(tmp_path: Path) -> WriteSketch:
    """Writes a sketch, indented as in a test, into the temporary folder and gives its path."""

    def write(text: str = SPOTS, name: str = "spots.py") -> Path:
        path = tmp_path / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(textwrap.dedent(text).lstrip("\n"), encoding="utf-8")
        return path

    return write


@dataclass(frozen=True)
class Answer:
    """What a command line came to."""

    status: int
    out: str
    err: str


Run = Callable[..., Answer]


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Tests of endurance are left to CI, and to whoever asks for them: `pytest -m endurance`."""
    if os.environ.get("CI") or config.option.markexpr:
        return
    left_out = [item for item in items if item.get_closest_marker("endurance")]
    config.hook.pytest_deselected(items=left_out)
    items[:] = [item for item in items if item not in left_out]


@pytest.fixture
def run(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> Run:
    """Runs a command line in this process, in the temporary folder."""
    prepare_kernels()  # so that no command has to say that it prepares it
    monkeypatch.chdir(tmp_path)

    def call(*arguments: object) -> Answer:
        status = main([str(argument) for argument in arguments])
        captured = capsys.readouterr()
        return Answer(status, captured.out, captured.err)

    return call


@pytest.fixture(scope="module")
def browser() -> Iterator[Browser]:
    if CHROMIUM is None and not os.environ.get("CI"):
        pytest.skip("Chromium is not installed; Debian has it as the package chromium")
    with sync_playwright() as playwright:
        opened = playwright.chromium.launch(executable_path=CHROMIUM, args=["--no-sandbox"])
        yield opened
        opened.close()


@pytest.fixture
def page(browser: Browser) -> Iterator[Page]:
    opened = browser.new_page(viewport={"width": 1280, "height": 800})
    yield opened
    opened.close()


INSTALLED = Path(sys.executable).with_name("mothseed")


@contextlib.contextmanager
def shown_page(*words: str) -> Iterator[str]:
    """The address of the page that a command shows while it runs; at the end it is interrupted, and has to end well."""
    with subprocess.Popen(
        [INSTALLED, *words, "--json"], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
    ) as process:
        try:
            assert process.stdout
            yield json.loads(process.stdout.readline())["page"]
            process.send_signal(signal.SIGINT)
            assert process.wait(30) == 0
        finally:
            process.kill()


@pytest.fixture
def installed(tmp_path: Path) -> Run:
    """Runs the installed program in the temporary folder."""
    assert INSTALLED.exists() or shutil.which("mothseed"), "the tests need the package to be installed"

    def call(*arguments: object, **environment: str) -> Answer:
        done = subprocess.run(
            [INSTALLED, *map(str, arguments)],
            cwd=tmp_path,
            env={**os.environ, **environment},
            capture_output=True,
            text=True,
            check=False,
            timeout=300,
        )
        return Answer(done.returncode, done.stdout, done.stderr)

    return call


def made_series(sketch: Path, seeds: str, width: int = 60, **dials: object) -> Path:
    """A series in the folder s, made in this process, which is quicker than the command, whose workers have to start first."""
    loaded = load_sketch(sketch)
    folder = Path("s")
    request = Request.of(loaded, parse_seeds(seeds), width, folder, variants=(Variant(recipe=Recipe(dials=dials)),))
    make_series(request, in_this_process(loaded))
    return folder
