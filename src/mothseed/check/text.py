"""The text of a sketch and of its own modules, read but not run."""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

from mothseed.sketch import Sketch
from mothseed.sketch.trace import Line

_SCOPES = (ast.FunctionDef, ast.AsyncFunctionDef, ast.Lambda, ast.Module)
_NAMED = (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)


@dataclass(frozen=True, slots=True, eq=False)
class SourceFile:
    """A file of a sketch."""

    path: Path
    text: str
    tree: ast.Module
    names: dict[str, str]
    """imported names and what they stand for: np is numpy, cos is math.cos"""
    used: frozenset[str]
    """names of functions and classes that are referred to by code that runs"""

    def line(self, node: ast.AST) -> Line:
        """The line of a node."""
        return Line(str(self.path), getattr(node, "lineno", 1))

    def written(self, node: ast.AST) -> str:
        """The text of a node, as the artist wrote it."""
        return ast.get_source_segment(self.text, node) or ast.unparse(node)

    def nodes(self) -> Iterator[ast.AST]:
        """All nodes of the file, except unused functions and classes."""
        return _nodes(self.tree, self.used)

    def scopes(self) -> Iterator[Scope]:
        """The file and each used function, with the nodes in them but not in nested functions."""
        yield Scope(self.tree)
        for node in self.nodes():
            if isinstance(node, _SCOPES[:-1]):
                yield Scope(node)


class Scope:
    """A function or a file, with the values its names are set to."""

    def __init__(self, node: ast.AST) -> None:
        self.node = node
        self.nodes = tuple(_own_nodes(node))
        self._set: dict[str, list[ast.expr | None]] = {}
        for each in self.nodes:
            for target, value in _settings(each):
                if isinstance(target, ast.Name):
                    self._set.setdefault(target.id, []).append(value)
                else:
                    for part in ast.walk(target):
                        if isinstance(part, ast.Name):
                            self._set.setdefault(part.id, []).append(None)

    def set_to(self, name: str) -> list[ast.expr | None]:
        """All values a name is set to; None stands for one that the text does not show."""
        return self._set.get(name, [None])

    def holds(self, node: ast.AST, test: Callable[[ast.AST], bool], depth: int = 4) -> bool:
        """Whether an expression passes a test, or is a name only ever set to ones that do."""
        if test(node):
            return True
        if depth == 0 or not isinstance(node, ast.Name):
            return False
        return all(value is not None and self.holds(value, test, depth - 1) for value in self.set_to(node.id))


def source_files(sketch: Sketch) -> list[SourceFile]:
    """The sketch and its own modules, except those that are not Python."""
    found = []
    for path in [sketch.path, *sketch.module_files()]:
        try:
            text = path.read_text(encoding="utf-8", errors="replace")
            found.append((path, text, ast.parse(text)))
        except (OSError, SyntaxError, ValueError):
            continue
    used = _used([tree for *_, tree in found], sketch.artwork.function.__name__)
    return [SourceFile(path, text, tree, _imported(tree), used) for path, text, tree in found]


def _used(trees: Sequence[ast.Module], artwork: str) -> frozenset[str]:
    """The names that the artwork and module-level code refer to, directly or indirectly."""
    bodies: dict[str, list[ast.AST]] = {}
    for tree in trees:
        for node in ast.walk(tree):
            if isinstance(node, _NAMED):
                bodies.setdefault(node.name, []).append(node)
    used = {artwork}
    waiting: list[ast.AST] = [*trees, *bodies.get(artwork, [])]
    while waiting:
        for node in _outside_functions(waiting.pop()):
            name = node.id if isinstance(node, ast.Name) else node.attr if isinstance(node, ast.Attribute) else ""
            if name in bodies and name not in used:
                used.add(name)
                waiting += bodies[name]
    return frozenset(used)


def _outside_functions(node: ast.AST) -> Iterator[ast.AST]:
    """The nodes within a scope, without nested functions, whose decorators and defaults do count, as they are run with it."""
    for child in ast.iter_child_nodes(node):
        if isinstance(child, ast.FunctionDef | ast.AsyncFunctionDef):
            for part in (*child.decorator_list, child.args):
                yield from ast.walk(part)
            # Called by Python itself.
            if child.name.startswith("__"):
                yield from _outside_functions(child)
        else:
            yield child
            yield from _outside_functions(child)


def _nodes(node: ast.AST, used: frozenset[str]) -> Iterator[ast.AST]:
    for child in ast.iter_child_nodes(node):
        if isinstance(child, _NAMED) and child.name not in used and not child.name.startswith("__"):
            continue
        yield child
        yield from _nodes(child, used)


def _own_nodes(node: ast.AST) -> Iterator[ast.AST]:
    for child in ast.iter_child_nodes(node):
        yield child
        if not isinstance(child, _SCOPES):
            yield from _own_nodes(child)


def _settings(node: ast.AST) -> Iterator[tuple[ast.expr, ast.expr | None]]:
    """The targets of a statement and their values."""
    match node:
        case ast.Assign(targets, value):
            yield from ((target, value) for target in targets)
        case ast.AnnAssign(target, _, value) if value is not None:
            yield target, value
        case ast.NamedExpr(target, value):
            yield target, value
        case ast.AugAssign(target) | ast.For(target) | ast.comprehension(target):
            yield target, None
        case ast.withitem(_, target) if target is not None:
            yield target, None
        case ast.arguments():
            for argument in (*node.posonlyargs, *node.args, *node.kwonlyargs):
                yield ast.Name(argument.arg), None


def function_lines(text: str) -> dict[int, str]:
    """The innermost function of each line of a file; lines outside functions are left out."""
    found: dict[int, str] = {}
    try:
        tree = ast.parse(text)
    except (SyntaxError, ValueError):
        return found
    for node in ast.walk(tree):  # from the outside in, so that inner ones come later
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            found.update(dict.fromkeys(range(node.lineno, (node.end_lineno or node.lineno) + 1), node.name))
    return found


def _imported(tree: ast.AST) -> dict[str, str]:
    """Names of a file, and what they stand for: np is numpy, cos is math.cos."""
    names: dict[str, str] = {"id": "id", "hash": "hash", "input": "input"}
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            for alias in node.names:
                names[alias.asname or alias.name.split(".")[0]] = alias.name if alias.asname else alias.name.split(".")[0]
        elif isinstance(node, ast.ImportFrom) and node.module and not node.level:
            for alias in node.names:
                names[alias.asname or alias.name] = f"{node.module}.{alias.name}"
    return names


def full_name(node: ast.AST, names: dict[str, str]) -> str:
    """A dotted name with its first part resolved to its import; empty for anything else."""
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
