"""What another installed package brings: the three examples of the page on extending, installed and used as it says."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import tomllib
from pathlib import Path

import pytest

from tests.conftest import INSTALLED, Answer, WriteSketch, pixels_of
from tests.places import ROOT

PAGE = (ROOT / "docs" / "extending.md").read_text(encoding="utf-8")


def install(folder: Path, module: str, table: str, name: str = "night-extras") -> Path:
    """A package as it lies there once it is installed, made of its code and the entry points of its pyproject.toml."""
    project = tomllib.loads(table)["project"]
    site = folder / "site"
    info = site / f"{name.replace('-', '_')}-{project['version']}.dist-info"
    info.mkdir(parents=True)
    (info / "METADATA").write_text(f"Metadata-Version: 2.1\nName: {name}\nVersion: {project['version']}\n")
    groups = project["entry-points"].items()
    points = "".join(f"[{group}]\n" + "".join(f"{k} = {v}\n" for k, v in points.items()) for group, points in groups)
    (info / "entry_points.txt").write_text(points)
    (site / f"{name.replace('-', '_')}.py").write_text(module)
    return site


def blocks(language: str) -> list[str]:
    """The pieces of code of the page."""
    return re.findall(rf"```{language}\n(.*?)```", PAGE, re.DOTALL)


def call(folder: Path, site: Path, *arguments: object) -> Answer:
    """The installed program, with the packages of a folder beside its own."""
    done = subprocess.run(
        [INSTALLED, *map(str, arguments)],
        cwd=folder,
        env={**os.environ, "PYTHONPATH": str(site)},
        capture_output=True,
        text=True,
        check=False,
        timeout=300,
    )
    return Answer(done.returncode, done.stdout, done.stderr)


@pytest.fixture
def extras(tmp_path: Path) -> Path:
    return install(tmp_path, "\n\n".join(blocks("python")), blocks("toml")[0])


def test_a_format_of_another_package_is_written(extras: Path, tmp_path: Path, write_sketch: WriteSketch) -> None:
    write_sketch()
    assert call(tmp_path, extras, "proof", "spots.py", "--width", "90px", "-o", "p.png").status == 0
    answer = call(tmp_path, extras, "proof", "spots.py", "--width", "90px", "-o", "p.ppm")
    assert answer.status == 0, answer.err
    assert "p.ppm  90 x 60 px, 5 marks" in answer.out
    content = (tmp_path / "p.ppm").read_bytes()
    assert content.startswith(b"P6\n# {")
    assert content.endswith(pixels_of(tmp_path / "p.png").tobytes())
    answer = call(tmp_path, extras, "proof", "spots.py", "--dither", "-o", "q.ppm")
    assert (answer.status, answer.err.splitlines()[0]) == (2, "mothseed: --dither: that is for a PNG")
    assert "endings are .png, .svg" in call(tmp_path, extras, "proof", "spots.py", "-o", "p.xyz").err
    assert ".ppm" in call(tmp_path, extras, "proof", "spots.py", "-o", "p.xyz").err


def test_a_check_of_another_package_is_made(extras: Path, tmp_path: Path, write_sketch: WriteSketch) -> None:
    thin = '    sheet.line(3, 3, 50, 30, stroke="navy", stroke_width=0.02)'
    text = f"from mothseed import artwork\n\n@artwork(width=60, height=40)\ndef plate(sheet, chance):\n{thin}\n"
    write_sketch(text, "plate.py")
    answer = call(tmp_path, extras, "check", "plate.py", "--seeds", "1")
    assert answer.status == 1
    assert "plate.py:5: hairline: strokes that no press can print\n" in answer.out
    assert "  1 strokes, the first 0.020 wide\n  make them 0.1 wide, or wider\n" in answer.out
    write_sketch(text.replace("0.02", "0.2"), "plate.py")
    assert call(tmp_path, extras, "check", "plate.py", "--seeds", "1").out == "plate.py: nothing found in 1 seed\n"


def test_a_measure_of_another_package_is_a_column(extras: Path, tmp_path: Path, write_sketch: WriteSketch) -> None:
    write_sketch()
    assert call(tmp_path, extras, "edition", "spots.py", "--seeds", "1-2", "--width", "60px", "--jobs", "1").status == 0
    rows = json.loads(call(tmp_path, extras, "table", "spots-series", "--where", "warmth > 0", "--json").out)
    assert [row["seed"] for row in rows] == [1, 2]
    assert all(0 < row["warmth"] < 0.2 for row in rows)
    plain = subprocess.run([INSTALLED, "table", "spots-series", "--json"], cwd=tmp_path, capture_output=True, check=True)
    assert [row["warmth"] for row in json.loads(plain.stdout)] == [row["warmth"] for row in rows]


BROKEN = """
from mothseed.check import Rule
from mothseed.formats import Format
from mothseed.measure import Measure

def fails(*_):
    raise RuntimeError("the lamp went out")

RULE = Rule({"dim": "it is dim"}, fails)
MEASURE = Measure("dimness", "how dim", fails)
FORMAT = Format("Dim", (".dim",), fails)
NOT_A_FORMAT = 3
"""
POINTS = """
[project]
version = "2.0"
[project.entry-points."mothseed.formats"]
dim = "dim_lamp:FORMAT"
dark = "dim_lamp:NOT_A_FORMAT"
black = "no_such_module:FORMAT"
[project.entry-points."mothseed.checks"]
dim = "dim_lamp:RULE"
lost = "no_such_module:RULE"
[project.entry-points."mothseed.measures"]
dim = "dim_lamp:MEASURE"
"""


@pytest.mark.parametrize(
    ("ending", "words"),
    [
        ("dim", "dim-lamp: its Dim cannot be written: RuntimeError: the lamp went out"),
        ("dark", "dim-lamp: dark is no Format but a int"),
        ("black", "dim-lamp: black cannot be loaded: ModuleNotFoundError: No module named 'no_such_module'"),
    ],
)
def test_a_format_that_fails_is_told_with_its_package(
    tmp_path: Path, write_sketch: WriteSketch, ending: str, words: str
) -> None:
    site = install(tmp_path, BROKEN, POINTS, "dim-lamp")
    write_sketch()
    answer = call(tmp_path, site, "proof", "spots.py", "-o", f"p.{ending}")
    assert answer.status == 1
    assert answer.err.splitlines()[0] == f"mothseed: {words}"
    assert "report it to the package's authors, or uninstall it" in answer.err
    assert not (tmp_path / f"p.{ending}").exists()
    assert call(tmp_path, site, "proof", "spots.py", "--width", "60px").status == 0


def test_a_check_and_a_measure_that_fail_stop_nothing_else(tmp_path: Path, write_sketch: WriteSketch) -> None:
    site = install(tmp_path, BROKEN, POINTS, "dim-lamp")
    write_sketch()
    answer = call(tmp_path, site, "check", "spots.py", "--seeds", "1", "--json")
    found = json.loads(answer.out)
    assert [each["code"] for each in found] == ["failed-check", "failed-check"]
    assert [each["words"].split(":")[:2] for each in found] == [
        ["dim-lamp", " check dim fails"],
        ["dim-lamp", " lost cannot be loaded"],
    ]
    answer = call(tmp_path, site, "edition", "spots.py", "--seeds", "1-3", "--width", "60px", "--jobs", "1")
    assert answer.status == 0
    assert answer.err.count("dim-lamp: measure dimness fails: RuntimeError: the lamp went out") == 1
    rows = json.loads(call(tmp_path, site, "table", "spots-series", "--json").out)
    assert all("dimness" not in row and row["coverage"] > 0 for row in rows)


def test_nothing_of_another_package_is_imported_before_it_is_asked_for(tmp_path: Path) -> None:
    site = install(tmp_path, "raise SystemExit('it was imported')\n", POINTS, "dim-lamp")
    program = "from mothseed import doors; print(*doors.names(doors.FORMATS), *doors.names(doors.CHECKS))"
    done = subprocess.run(
        [sys.executable, "-c", program], env={**os.environ, "PYTHONPATH": str(site)}, capture_output=True, text=True, check=True
    )
    assert sorted(done.stdout.split()) == ["black", "dark", "dim", "dim", "lost"]
