"""The house as it is meant to stand: what prints, what names options, what may be called by which name."""

from __future__ import annotations

import ast
import re
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.places import ROOT

SOURCE = ROOT / "src" / "mothseed"
MODULES = sorted(path for path in SOURCE.rglob("*.py") if "demo" not in path.parts)
BELOW = [path for path in MODULES if path.relative_to(SOURCE).parts[0] not in ("cli", "__main__.py")]
PRINTING = {"print", "sys.stdout", "sys.stdout.write", "sys.stderr.write"}


def trees(paths: list[Path]) -> Iterator[tuple[Path, ast.Module]]:
    for path in paths:
        yield path, ast.parse(path.read_text(encoding="utf-8"))


def texts_of(tree: ast.Module) -> Iterator[tuple[int, str]]:
    """Every text of a module that is no docstring and no comment."""
    docstrings = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef) and node.body and isinstance(node.body[0], ast.Expr)
    }
    strings = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    for node in ast.walk(tree):
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in docstrings | strings:
            yield node.lineno, node.value


def test_nothing_prints_but_the_console() -> None:
    found = [
        f"{path.relative_to(SOURCE)}:{node.lineno}"
        for path, tree in trees(MODULES)
        if path != SOURCE / "cli" / "console.py"
        for node in ast.walk(tree)
        if (isinstance(node, ast.Call) and ast.unparse(node.func) in PRINTING)
        or (isinstance(node, ast.Call) and any(ast.unparse(each) == "sys.stdout" for each in node.args))
    ]
    assert found == []


def test_below_the_command_line_nothing_names_an_option() -> None:
    found = [
        f"{path.relative_to(SOURCE)}:{line}: {text}"
        for path, tree in trees(BELOW)
        for line, text in texts_of(tree)
        if re.search(r"(?<![\w-])--[a-z]|with -o\b|(?<!\w)-o ", text)
    ]
    assert found == []


def test_nothing_is_decided_by_the_words_of_a_message() -> None:
    decides = re.compile(
        r"\b(in|not in|==|!=)\s+(str\()?fault(\.message|\))|fault\.message\.(startswith|endswith)|\bre\.\w+\(.*fault"
    )
    found = [
        f"{path.relative_to(SOURCE)}:{number}: {line.strip()}"
        for path in MODULES
        if path != SOURCE / "sketch" / "remedy.py"  # Python gives the reasons of a TypeError in words alone
        for number, line in enumerate(path.read_text(encoding="utf-8").splitlines(), 1)
        if decides.search(line)
    ]
    assert found == []


def test_no_two_modules_have_one_name_for_different_things() -> None:
    """A command is called as what it shows, a registry and a face as in every room."""
    alike = {"__init__", "registry"}
    stems = Counter(path.stem for path in MODULES if path.parent != SOURCE / "cli" and path.stem not in alike)
    assert [stem for stem, count in stems.items() if count > 1 and stem != "watch"] == []


def test_no_two_classes_have_one_name() -> None:
    names = Counter(
        node.name
        for _, tree in trees(MODULES)
        for node in tree.body
        if isinstance(node, ast.ClassDef) and not node.name.startswith("_")
    )
    assert [name for name, count in names.items() if count > 1] == []


def test_files_are_of_a_size_that_one_can_hold_in_mind() -> None:
    lengths = {path.relative_to(SOURCE): len(path.read_text(encoding="utf-8").splitlines()) for path in MODULES}
    assert {str(path): length for path, length in lengths.items() if length > 500} == {}


@pytest.mark.parametrize("room", ["chance", "colour", "geometry", "sheet", "render", "formats", "measure", "sketch", "series"])
def test_every_module_says_what_it_is_for(room: str) -> None:
    for path in (SOURCE / room).rglob("*.py"):
        assert ast.get_docstring(ast.parse(path.read_text(encoding="utf-8"))), path


def test_tests_use_no_private_name_without_a_reason() -> None:
    """A private name of the product in a test has a comment behind it that says why."""
    found = []
    for path in sorted((ROOT / "tests").rglob("*.py")):
        if "earlier" in path.parts:
            continue
        for number, line in enumerate(path.read_text(encoding="utf-8").splitlines(), 1):
            private = re.search(r"from mothseed\S* import .*\b_\w+|\b(?!self\b|cls\b|os\b|Style\b)\w+\._[a-z]\w+", line)
            if private and "  # " not in line:
                found.append(f"{path.relative_to(ROOT)}:{number}: {line.strip()}")
    assert found == []
