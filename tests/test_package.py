"""The face of the package, what starting it costs, and the installed program as its user meets it."""

from __future__ import annotations

import importlib
import json
import re
import subprocess
import sys
from pathlib import Path

import pytest

import mothseed
from mothseed.cli.commands import COMMANDS
from mothseed.render import pixel_hash
from tests.conftest import Run, pixels_of
from tests.places import ROOT

HEAVY = {"numpy", "numba", "PIL", "coloraide", "rich", "matplotlib", "scipy", "isal", "sqlite3", "multiprocessing"}


def test_the_face_exports_what_a_sketch_needs_and_nothing_else() -> None:
    assert dir(mothseed) == sorted(mothseed.__all__)
    for name in mothseed.__all__:
        assert getattr(mothseed, name) is not None
    with pytest.raises(AttributeError, match="mothseed has no squiggle; it has Chance"):
        mothseed.squiggle  # noqa: B018


@pytest.mark.parametrize("part", ["chance", "colour", "geometry", "sheet", "render", "sketch", "series", "compare", "watch"])
def test_each_part_shows_what_it_says_it_shows(part: str) -> None:
    module = importlib.import_module(f"mothseed.{part}")
    assert module.__all__ == sorted(module.__all__)
    assert all(hasattr(module, name) for name in module.__all__)
    assert module.__doc__


@pytest.mark.parametrize("option", ["--help", "--version", "proof --help"])
def test_help_and_version_load_nothing_heavy(option: str) -> None:
    program = f"import sys; from mothseed.cli import main; main({option.split()}); print(*sys.modules, file=sys.stderr)"
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True)
    loaded = {name.split(".")[0] for name in done.stderr.split()}
    assert done.stdout
    assert not loaded & HEAVY


@pytest.mark.parametrize("part", ["colour", "sheet", "sketch", "cli.palette", "cli.mark", "cli.tally"])
def test_what_paints_nothing_does_without_the_compiler(part: str) -> None:
    program = f"import sys, mothseed.{part}; print(*sys.modules)"
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True)
    assert "numba" not in done.stdout.split()


def test_the_overview_is_there_before_arguments_could_be_read(installed: Run) -> None:
    program = "import sys; from mothseed.cli import main; main(['--help']); print(*sys.modules, file=sys.stderr)"
    done = subprocess.run([sys.executable, "-I", "-c", program], capture_output=True, text=True, check=True)
    assert not set(done.stderr.split()) & {"argparse", "dataclasses", "typing", "inspect", "json", "mothseed.faults"}
    assert [line.split()[0] for line in done.stdout.split("commands:\n")[1].split("\n\n")[0].splitlines()] == list(COMMANDS)
    assert installed().err == done.stdout
    assert installed("-h").out == done.stdout


def test_the_module_runs_as_the_program_does(installed: Run) -> None:
    done = subprocess.run([sys.executable, "-m", "mothseed", "--version"], capture_output=True, text=True, check=True)
    assert done.stdout == installed("--version").out


def test_the_demo_gives_the_same_pixels_whenever_it_is_made_and_by_however_many(installed: Run, tmp_path: Path) -> None:
    first, second = (
        installed("demo", name, "--jobs", jobs, PYTHONHASHSEED=jobs) for name, jobs in (("one", "1"), ("two", "2"))
    )
    assert (first.status, second.status) == (0, 0)
    assert "The Night Register is in one/" in first.out
    names = sorted(str(path.relative_to(tmp_path / "one")) for path in (tmp_path / "one").rglob("*.png"))
    assert len([name for name in names if re.fullmatch(r"moths/\d{4}\.png", name)]) == 24
    assert {
        "compare.png",
        "drawer-0003.png",
        "lamp-0005.png",
        "lattice-0004.png",
        "flights-0001.png",
        "scales-0001.png",
        "register-0005.png",
        "specimen-0008.png",
        "moths/contact.png",
    } <= set(names)
    for name in names:
        one, two = (pixel_hash(pixels_of(tmp_path / folder / name)) for folder in ("one", "two"))
        assert one == two, name
    drawer = tmp_path / "one" / "drawer.py"
    drawer.write_text(drawer.read_text() + "# mine\n")
    again = installed("demo", "one", "--json")
    assert json.loads(again.out)["series"] == {"folder": "one/moths", "made": 0, "kept": 24, "failed": 0}
    assert "drawer.py was changed by you and stays as it is" in again.err
    assert drawer.read_text().endswith("# mine\n")


def test_the_commands_that_the_demo_proposes_work(installed: Run, tmp_path: Path) -> None:
    """The commands are read from what the program says, and run as it says them, smaller."""
    said = installed("demo", "night").out
    commands = [line.split() for line in said.splitlines() if line.startswith("  mothseed ")]
    assert len(commands) == 10
    for command in commands:
        arguments = [*command[1:2], f"night/{command[2]}", *command[3:]]
        arguments = [word.replace("1-48", "1-2") for word in arguments]
        arguments = ["night/few" if word in ("moths", "night/moths") else word for word in arguments]
        if "--width" not in arguments and command[1] not in ("palette", "lightbox"):
            arguments += ["--width", "200px"]
        answer = installed(*arguments)
        assert answer.status == 0, answer.err


def test_the_first_sketch_of_the_readme_runs(installed: Run, tmp_path: Path) -> None:
    readme = (ROOT / "README.md").read_text()
    sketch = next(block for block in re.findall(r"```python\n(.*?)```", readme, re.DOTALL) if "@artwork" in block)
    (tmp_path / "first.py").write_text(sketch)
    answer = installed("proof", "first.py", "--width", "200px")
    assert answer.status == 0, answer.err


def test_every_screenshot_is_linked_and_every_link_leads_somewhere() -> None:
    readme = (ROOT / "README.md").read_text()
    shots = {path.name for path in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert 0 < len(shots) < 20
    for name in shots:
        assert f"docs/screenshots/{name}" in readme
    for target in re.findall(r"\]\(([^)#:]+)\)", readme):
        assert (ROOT / target).exists(), target
