"""The text of a sketch and of its own modules, read but not run."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from mothseed.sketch import Sketch
from mothseed.sketch.trace import Line


@dataclass(frozen=True, slots=True, eq=False)
class SourceFile:
    """A file of a sketch."""

    path: Path
    tree: ast.AST
    names: dict[str, str]
    """names, and what they stand for: np is numpy, cos is math.cos"""

    def line(self, node: ast.AST) -> Line:
        """Where something stands."""
        return Line(str(self.path), getattr(node, "lineno", 1))


def source_files(sketch: Sketch) -> Iterator[SourceFile]:
    """The sketch and its own modules; what is not Python is left out."""
    for path in [sketch.path, *sketch.module_files()]:
        try:
            tree = ast.parse(path.read_text(encoding="utf-8", errors="replace"))
        except (OSError, SyntaxError, ValueError):
            continue
        yield SourceFile(path, tree, _imported(tree))


def function_lines(text: str) -> dict[int, str]:
    """Which function each line of a file stands in, the innermost; lines of none are left out."""
    found: dict[int, str] = {}
    try:
        tree = ast.parse(text)
    except (SyntaxError, ValueError):
        return found
    for node in ast.walk(tree):  # from the outside inwards, so that inner ones come later
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            found.update(dict.fromkeys(range(node.lineno, (node.end_lineno or node.lineno) + 1), node.name))
    return found


def _imported(tree: ast.AST) -> dict[str, str]:
    """Names of a file, and what they stand for: np is numpy, cos is math.cos."""
    names: dict[str, str] = {"id": "id", "hash": "hash"}
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            for alias in node.names:
                names[alias.asname or alias.name.split(".")[0]] = alias.name if alias.asname else alias.name.split(".")[0]
        elif isinstance(node, ast.ImportFrom) and node.module and not node.level:
            for alias in node.names:
                names[alias.asname or alias.name] = f"{node.module}.{alias.name}"
    return names


def full_name(node: ast.AST, names: dict[str, str]) -> str:
    """A dotted name with its first part as it was imported; empty for all else."""
    if isinstance(node, ast.Name):
        return names.get(node.id, "")
    if isinstance(node, ast.Attribute):
        before = full_name(node.value, names)
        return f"{before}.{node.attr}" if before else ""
    return ""


def number_of(node: ast.AST) -> float | None:
    """The number that is written there, or None."""
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        inner = number_of(node.operand)
        return None if inner is None else -inner
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
        return float(node.value)
    return None
