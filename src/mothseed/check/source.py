"""What can be told from the text of a sketch alone."""

from __future__ import annotations

import ast
import math
import operator
from collections.abc import Callable, Iterator
from pathlib import Path

from mothseed.check.finding import Finding
from mothseed.sketch.trace import Line

_UNSEEDED_MODULES = {"random": "chance", "secrets": "chance", "uuid": "chance"}
_UNSEEDED_CALLS = {
    "numpy.random", "os.urandom", "time.time", "time.time_ns", "time.perf_counter", "time.monotonic", "datetime.datetime.now",
    "datetime.datetime.today", "datetime.datetime.utcnow", "datetime.date.today", "id", "hash",
}  # fmt: skip
_DEGREES = {"turn", "heading", "sweep", "degrees", "start", "end", "step", "light"}
"""Keywords that take degrees."""
_DEGREE_CALLS = {"turned", "veer", "face", "bend", "spun", "rotation"}
_CIRCLES = {"math.pi", "math.tau", "numpy.pi", "math.radians", "numpy.radians", "numpy.deg2rad"}
_RADIAN_CALLS = {"math.sin", "math.cos", "math.tan", "numpy.sin", "numpy.cos", "numpy.tan"}
_MOST_RADIANS = 6.2832
_WIDE_SPACES = ("oklch(", "oklab(", "lch(", "lab(", "color(")


def source_findings(file: Path, text: str) -> Iterator[Finding]:
    """What is found in a file of a sketch; none where it is not Python."""
    try:
        tree = ast.parse(text)
    except (SyntaxError, ValueError):
        return
    names = _imported(tree)
    for node in ast.walk(tree):
        line = Line(str(file), getattr(node, "lineno", 1))
        yield from _unseeded(node, names, line)
        yield from _angles(node, names, line)
        yield from _gamut(node, line)


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


def _full_name(node: ast.AST, names: dict[str, str]) -> str:
    """A dotted name with its first part as it was imported; empty for all else."""
    if isinstance(node, ast.Name):
        return names.get(node.id, "")
    if isinstance(node, ast.Attribute):
        before = _full_name(node.value, names)
        return f"{before}.{node.attr}" if before else ""
    return ""


def _unseeded(node: ast.AST, names: dict[str, str], line: Line) -> Iterator[Finding]:
    if isinstance(node, ast.Call):
        name = _full_name(node.func, names)
        if name.split(".")[0] in _UNSEEDED_MODULES or name in _UNSEEDED_CALLS or name.startswith("numpy.random."):
            yield Finding("unseeded", line, f"{name}() gives something else each time", _remedy_for(name))
    iterated = node.iter if isinstance(node, ast.For | ast.comprehension) else None
    if iterated is not None and (isinstance(iterated, ast.Set | ast.SetComp) or _is_set_call(iterated)):
        where = Line(line.file, iterated.lineno)
        yield Finding("unseeded", where, "a set has another order in each process", "write sorted(...), or a list")


def _is_set_call(node: ast.AST) -> bool:
    return isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ("set", "frozenset")


def _remedy_for(name: str) -> str:
    if "time" in name or "date" in name:
        return "leave it out, or make it a dial"
    if name in ("id", "hash"):
        return "use the thing itself, or its place in a list"
    return 'draw from chance: chance("name").between(0, 1)'


def _angles(node: ast.AST, names: dict[str, str], line: Line) -> Iterator[Finding]:
    if not isinstance(node, ast.Call):
        return
    given = [keyword.value for keyword in node.keywords if keyword.arg in _DEGREES]
    if isinstance(node.func, ast.Attribute) and node.func.attr in _DEGREE_CALLS:
        given += node.args[:1]
    for value in given:
        found = any(_full_name(part, names) in _CIRCLES for part in ast.walk(value))
        # Where degrees are made of radians again, all is well.
        back = any(_full_name(part, names) in ("math.degrees", "numpy.degrees", "numpy.rad2deg") for part in ast.walk(value))
        if found and not back and not _has_180(value):
            where = Line(line.file, value.lineno)
            yield Finding("radians", where, f"{ast.unparse(value)} is in radians", _in_degrees(value, names))
    if _full_name(node.func, names) in _RADIAN_CALLS and node.args:
        number = _number(node.args[0])
        if number is not None and abs(number) > _MOST_RADIANS and number == int(number):
            words = f"{ast.unparse(node)} takes radians"
            yield Finding("degrees", line, words, f"write {ast.unparse(node.func)}(math.radians({number:g}))")


def _in_degrees(value: ast.AST, names: dict[str, str]) -> str:
    """What to write instead of an angle in radians."""
    if isinstance(value, ast.Call) and len(value.args) == 1:
        return f"angles are in degrees: write {ast.unparse(value.args[0])}"
    turn = _fraction_of_pi(value, names)
    return "angles are in degrees, pi is 180" if turn is None else f"angles are in degrees: write {math.degrees(turn):g}"


def _fraction_of_pi(node: ast.AST, names: dict[str, str]) -> float | None:
    """What a calculation with pi and plain numbers comes to, or None for any other."""
    match node:
        case ast.BinOp(left, operation, right) if type(operation) in _CALCULATIONS:
            first, second = _fraction_of_pi(left, names), _fraction_of_pi(right, names)
            if first is None or second is None or (isinstance(operation, ast.Div) and second == 0):
                return None
            return _CALCULATIONS[type(operation)](first, second)
        case ast.UnaryOp(ast.USub(), operand):
            inner = _fraction_of_pi(operand, names)
            return None if inner is None else -inner
    name = _full_name(node, names)
    return math.pi if name.endswith(".pi") else math.tau if name.endswith(".tau") else _number(node)


_CALCULATIONS: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
}


def _has_180(value: ast.AST) -> bool:
    return any(isinstance(part, ast.Constant) and part.value in (180, 360) for part in ast.walk(value))


def _number(node: ast.AST) -> float | None:
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        inner = _number(node.operand)
        return None if inner is None else -inner
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
        return float(node.value)
    return None


def _gamut(node: ast.AST, line: Line) -> Iterator[Finding]:
    if not (isinstance(node, ast.Constant) and isinstance(node.value, str)):
        return
    text = node.value.strip().lower()
    if not text.startswith(_WIDE_SPACES):
        return
    from coloraide import Color

    try:
        colour = Color(text)
    except ValueError:
        return
    if not colour.in_gamut("srgb", tolerance=0.002):
        nearest = colour.convert("srgb").fit(method="oklch-chroma").to_string(hex=True)
        yield Finding("out-of-gamut", line, f"{node.value} is more vivid than a screen can show; it becomes {nearest}",
                      "lower its chroma until it can")  # fmt: skip
