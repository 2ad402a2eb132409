from __future__ import annotations

import importlib.util
import re
import shlex
import sys
from pathlib import Path
from types import ModuleType

import pytest

import mothseed
from mothseed.cli.main import parser
from mothseed.sheet import View
from mothseed.sheet.marks import Marks

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="module")
def reference() -> ModuleType:
    spec = importlib.util.spec_from_file_location("make_reference", ROOT / "scripts" / "make_reference.py")
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    sys.modules[spec.name] = module
    spec.loader.exec_module(module)
    return module


def test_the_reference_is_what_the_code_says(reference: ModuleType) -> None:
    """Run scripts/make_reference.py when this fails."""
    assert (ROOT / "docs" / "reference" / "README.md").read_text(encoding="utf-8") == reference.page()


def test_every_call_of_a_view_is_in_the_reference_and_draws_what_it_shows(reference: ModuleType) -> None:
    entries = [entry for section in reference.SECTIONS.values() for entry in section]
    shown = {entry.name for entry in entries if entry.owner == "view"}
    bulk = {"ellipses", "rects", "dots", "polylines"}  # as `circles`
    public = {name for owner in (View, Marks, *View.__mro__) for name in vars(owner) if not name.startswith("_")}
    calls = {name for name in public if callable(getattr(View, name, None))}
    assert calls - bulk - {"down"} == shown
    for entry in entries:
        assert len(reference.draw(entry).drawing()) > 0, entry.name
        assert (ROOT / "docs" / "reference" / "pictures" / f"{entry.picture}.png").exists()


@pytest.mark.parametrize(("name", "count"), [("plate", 6), ("patterns", 5), ("chance", 6), ("colour", 6), ("pictures", 5)])
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
