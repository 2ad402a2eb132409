from __future__ import annotations

import importlib.util
import re
import shlex
import sys
from pathlib import Path
from types import ModuleType

import pytest
from PIL import Image

import mothseed
from mothseed.cli.main import parser
from mothseed.render import rendered
from mothseed.sheet import View
from mothseed.sheet.marks import Marks
from mothseed.sketch import load_sketch, perform
from tests.places import ROOT
from tests.recipes import recipe


def script(name: str) -> ModuleType:
    """A module of scripts/."""
    spec = importlib.util.spec_from_file_location(name, ROOT / "scripts" / f"{name}.py")
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    sys.modules[spec.name] = module
    spec.loader.exec_module(module)
    return module


@pytest.fixture(scope="module")
def reference() -> ModuleType:
    return script("make_reference")


def written(path: str) -> str:
    return (ROOT / "docs" / path).read_text(encoding="utf-8")


def test_the_reference_is_what_the_code_says(reference: ModuleType) -> None:
    """Run scripts/make_reference.py when this fails."""
    assert written("reference/README.md") == reference.page()
    assert written("reference/calls.md") == reference.calls_page()


def test_the_reference_of_commands_is_what_the_command_line_says() -> None:
    """Run scripts/make_commands.py when this fails."""
    commands = script("make_commands")
    assert written("reference/commands.md") == commands.page()
    manual = re.sub(r"\\f.|\\", "", written("man/mothseed.1"))
    for name, command in commands.commands().items():
        assert f"mothseed {name}" in manual
        shown = [action for action in command._actions if action.help != "==SUPPRESS=="]  # argparse tells them nowhere else
        for option in [option for action in shown for option in action.option_strings]:
            assert option in manual, f"{name} {option}"
        assert command.description
        assert str(command.epilog).startswith(f"example: mothseed {name}")


def test_the_cookbook_is_what_its_sketches_say_and_each_of_them_draws() -> None:
    """Run scripts/make_cookbook.py when this fails."""
    cookbook = script("make_cookbook")
    assert written("cookbook/README.md") == cookbook.page()
    names = sorted(path.stem for path in cookbook.SKETCHES.glob("*.py"))
    assert sorted(cookbook.ORDER) == names
    assert len(names) == 34
    for name in names:
        impression = perform(load_sketch(cookbook.SKETCHES / f"{name}.py"), recipe(1))
        shown = Image.fromarray(rendered(impression.drawing, cookbook.PIXELS))
        assert shown.convert("RGB").tobytes() == Image.open(cookbook.PAGE / f"{name}.png").convert("RGB").tobytes(), name


RUN_ELSEWHERE = {"guide", "plate", "patterns", "chance", "colour", "pictures", "cookbook", "reference"}
AROUND = """
import math
view, own, count, ground, palette_names = sheet, chance, 3, "teal", ["red", "teal"]
shape = tints = lambda view, own: None
"""
"""What pieces that are a line or two take for granted."""


def test_every_piece_of_python_in_the_docs_runs(reference: ModuleType, tmp_path: Path) -> None:
    pages = [ROOT / "README.md", *(page for page in (ROOT / "docs").rglob("*.md") if page.parent.name not in RUN_ELSEWHERE)]
    ran = 0
    for page in pages:
        for code in re.findall(r"```python\n(.*?)```", page.read_text(encoding="utf-8"), re.DOTALL):
            ran += 1
            if "@artwork" in code:
                path = tmp_path / f"piece{ran}.py"
                path.write_text(code, encoding="utf-8")
                assert len(perform(load_sketch(path), recipe(1)).drawing) > 0
            else:
                reference.drawn(AROUND + code, 120, 80)
    assert ran > 15


def test_every_test_that_the_page_on_reproducibility_names_is_there() -> None:
    named = set(re.findall(r"`(test_\w+)`", written("reproducibility.md")))
    tests = "".join(path.read_text(encoding="utf-8") for path in (ROOT / "tests").rglob("test_*.py"))
    assert len(named) > 10
    assert {name for name in named if f"def {name}(" not in tests} == set()


@pytest.mark.parametrize("page", ["architecture.md", "rendering.md"])
def test_the_modules_that_a_page_names_are_there(page: str) -> None:
    modules = [path.as_posix() for path in (ROOT / "src" / "mothseed").rglob("*.py")]
    named = set(re.findall(r"`((?:\w+/)*\w+\.py)`", written(page)))
    assert named
    assert [name for name in named if not any(module.endswith(f"/{name}") for module in modules)] == []


def test_every_page_is_reached_from_the_readme_and_every_link_leads_somewhere() -> None:
    seen, waiting = set(), [ROOT / "README.md"]
    while waiting:
        page = waiting.pop()
        seen.add(page)
        for link in re.findall(r"\]\(([^)#]+)[^)]*\)", page.read_text(encoding="utf-8")):
            target = (page.parent / link).resolve()
            if "://" not in link:
                assert target.exists(), f"{page.relative_to(ROOT)}: {link}"
                if target.suffix == ".md" and target not in seen:
                    waiting.append(target)
    assert set((ROOT / "docs").rglob("*.md")) - seen == set()


def test_every_call_of_a_view_is_in_the_reference_and_draws_what_it_shows(reference: ModuleType) -> None:
    entries = [entry for section in reference.SECTIONS.values() for entry in section]
    shown = {entry.name for entry in entries if entry.owner == "view"}
    bulk = {"rects", "dots", "polylines"}  # as `circles` and `ellipses`
    public = {name for owner in (View, Marks, *View.__mro__) for name in vars(owner) if not name.startswith("_")}
    calls = {name for name in public if callable(call := getattr(View, name, None)) and call.__name__ == name}
    assert calls - bulk - {"down"} == shown
    for entry in entries:
        assert len(reference.draw(entry).drawing()) > 0, entry.name
        assert (ROOT / "docs" / "reference" / "pictures" / f"{entry.picture}.png").exists()


@pytest.mark.parametrize(
    ("name", "count"),
    [
        ("guide", 8),
        ("plate", 6),
        ("patterns", 5),
        ("chance", 6),
        ("colour", 6),
        pytest.param("pictures", 5, marks=pytest.mark.endurance),
    ],
)
def test_the_pages_with_pictures_draw_what_they_show(reference: ModuleType, name: str, count: int) -> None:
    pieces = reference.code_of_page(name)
    assert len(pieces) == len(list((ROOT / "docs" / name).glob("*.png"))) == count
    for code in pieces:
        assert len(reference.drawn(code, 120, 80).drawing()) > 0


def test_the_commands_that_the_docs_show_are_understood() -> None:
    pages = [ROOT / "README.md", *(ROOT / "docs").rglob("*.md")]
    blocks = [block for path in pages for block in re.findall(r"```sh\n(.*?)```", path.read_text(encoding="utf-8"), re.DOTALL)]
    lines = [
        shlex.split(line, comments=True) for block in blocks for line in block.splitlines() if line.startswith("mothseed ")
    ]
    assert len(lines) > 20
    for words in lines:
        parser().parse_args(words[1:])


def test_every_name_that_sketches_import_is_spoken_of_in_the_docs() -> None:
    text = "".join(path.read_text(encoding="utf-8") for path in [ROOT / "README.md", *(ROOT / "docs").rglob("*.md")])
    missing = [name for name in mothseed.__all__ if not name.startswith("_") and not re.search(rf"\b{name}\b", text)]
    assert missing == []
