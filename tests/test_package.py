"""The face of the package, what starting it costs, and the installed program as its user meets it."""

from __future__ import annotations

import importlib
import json
import re
import subprocess
import sys
import textwrap
from pathlib import Path
from pkgutil import iter_modules
from types import ModuleType

import pytest

import mothseed
from mothseed.cli.commands import COMMANDS
from mothseed.cli.main import parser
from mothseed.render import pixel_hash
from tests.conftest import SPOTS, Run, pixels_of
from tests.places import ROOT

HEAVY = {"numpy", "numba", "llvmlite", "PIL", "coloraide", "rich", "matplotlib", "jinja2"}
HEAVY |= {"scipy", "isal", "sqlite3", "multiprocessing"}


def test_the_face_exports_what_a_sketch_needs_and_nothing_else() -> None:
    assert dir(mothseed) == sorted(mothseed.__all__)
    for name in mothseed.__all__:
        assert getattr(mothseed, name) is not None
    with pytest.raises(AttributeError, match="mothseed has no squiggle; it has Chance"):
        mothseed.squiggle  # type: ignore[attr-defined]  # noqa: B018


@pytest.mark.parametrize("part", sorted(stub.parent.name for stub in Path(mothseed.__file__).parent.glob("*/__init__.pyi")))
def test_each_part_shows_what_it_says_it_shows(part: str) -> None:
    package = importlib.import_module(f"mothseed.{part}")
    for module in iter_modules(package.__path__):
        importlib.import_module(f"mothseed.{part}.{module.name}")
    shown = {name: getattr(package, name) for name in package.__all__}
    assert shown
    assert not [name for name, value in shown.items() if isinstance(value, ModuleType)]  # as of a module of the same name
    assert package.__doc__


@pytest.mark.parametrize("option", ["--help", "--version", "proof --help"])
def test_help_and_version_load_nothing_heavy(option: str) -> None:
    program = f"import sys; from mothseed.cli import main; main({option.split()}); print(*sys.modules, file=sys.stderr)"
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True)
    loaded = {name.split(".")[0] for name in done.stderr.split()}
    assert done.stdout
    assert not loaded & HEAVY


@pytest.fixture(scope="module")
def series(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder with a series in it, of a sketch that names its colours."""
    folder = tmp_path_factory.mktemp("loads")
    text = textwrap.dedent(SPOTS).replace("#1b2a41", "navy").replace("#c9663d", "#c63")
    (folder / "spots.py").write_text(text, encoding="utf-8")
    command = [sys.executable, "-m", "mothseed", "edition", "spots.py", "--seeds", "1-4", "--width", "60px", "--jobs", "1"]
    subprocess.run(command, cwd=folder, check=True, capture_output=True)
    return folder


@pytest.mark.parametrize(
    ("line", "may_load"),
    [
        ("new start.py", set()),
        ("palette spots-series/0001.png --json", {"numpy", "PIL"}),
        ("table spots-series --json", {"sqlite3"}),
        ("table spots-series", {"sqlite3", "rich"}),
        ("tally spots-series --json", {"numpy", "sqlite3"}),
        ("mark spots-series 1 keep", {"sqlite3"}),
        ("contact spots-series", {"numpy", "sqlite3", "isal", "PIL"}),
        ("lightbox spots-series -o page.html", {"numpy", "sqlite3", "isal", "PIL", "jinja2"}),
        ("proof spots.py --width 60px --no-daybook", {"numpy", "isal", "llvmlite"}),
        ("proof spots.py -o spots.svg --no-daybook", {"numpy", "isal"}),
        ("trace spots.py --json", {"numpy", "isal", "PIL", "sqlite3", "multiprocessing"}),
        ("edition spots.py --seeds 1-4 --width 60px --dry-run", {"numpy", "sqlite3", "multiprocessing", "isal", "PIL"}),
    ],
)
def test_a_command_loads_what_it_uses_and_no_more(series: Path, line: str, may_load: set[str]) -> None:
    run = f"status = main({line.split()}); print(status, *sys.modules, file=sys.stderr)"
    program = f"import sys; from mothseed.cli import main; {run}"
    done = subprocess.run([sys.executable, "-c", program], cwd=series, capture_output=True, text=True, check=True)
    status, *modules = done.stderr.splitlines()[-1].split()
    assert status == "0", done.stderr
    loaded = {name.split(".")[0] for name in modules} & HEAVY
    assert loaded <= may_load


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


@pytest.mark.endurance
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
        "moonrise-0007.png",
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
    assert_proposals_work(first.out, installed)


def assert_proposals_work(said: str, installed: Run) -> None:
    """The commands are read from what the program says, and run as it says them, smaller."""
    lines = [re.split(r" {2,}", line.strip())[0] for line in said.splitlines() if line.startswith("  mothseed ")]
    commands = [line.split() for line in lines]
    assert len(commands) == 5
    for command in commands:
        parser().parse_args(command[1:])
        if command[1] == "watch":  # it goes on until somebody ends it
            continue
        arguments = [*command[1:2], f"one/{command[2]}", *command[3:]]
        arguments = [word.replace("1-48", "1-2") for word in arguments]
        arguments = ["one/few" if word in ("moths", "one/moths") else word for word in arguments]
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
