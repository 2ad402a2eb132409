"""Radians where degrees are meant, and degrees where radians are, told from the text of a sketch."""

from __future__ import annotations

import ast
import math
import operator
from collections.abc import Callable, Iterator

from mothseed.check.rule import Finding, Look, Rule
from mothseed.check.text import SourceFile, full_name, number_of, source_files
from mothseed.sketch.trace import Line

_DEGREES = {"turn", "heading", "sweep", "degrees", "start", "end", "step", "light"}
"""Keywords that take degrees."""
_DEGREE_CALLS = {"turned", "veer", "face", "bend", "spun", "rotation"}
_CIRCLES = {"math.pi", "math.tau", "numpy.pi", "math.radians", "numpy.radians", "numpy.deg2rad"}
_RADIAN_CALLS = {"math.sin", "math.cos", "math.tan", "numpy.sin", "numpy.cos", "numpy.tan"}
_MOST_RADIANS = 6.2832


def _find(look: Look) -> Iterator[Finding]:
    for file in source_files(look.sketch):
        for node in ast.walk(file.tree):
            if isinstance(node, ast.Call):
                yield from _in_call(node, file)


def _in_call(node: ast.Call, file: SourceFile) -> Iterator[Finding]:
    names = file.names
    given = [keyword.value for keyword in node.keywords if keyword.arg in _DEGREES]
    if isinstance(node.func, ast.Attribute) and node.func.attr in _DEGREE_CALLS:
        given += node.args[:1]
    for value in given:
        found = any(full_name(part, names) in _CIRCLES for part in ast.walk(value))
        # Where degrees are made of radians again, all is well.
        back = any(full_name(part, names) in ("math.degrees", "numpy.degrees", "numpy.rad2deg") for part in ast.walk(value))
        if found and not back and not _has_180(value):
            where = Line(str(file.path), value.lineno)
            yield RULE.finding("radians", where, f"{ast.unparse(value)} is in radians", _in_degrees(value, names))
    if full_name(node.func, names) in _RADIAN_CALLS and node.args:
        number = number_of(node.args[0])
        if number is not None and abs(number) > _MOST_RADIANS and number == int(number):
            words = f"{ast.unparse(node)} takes radians"
            remedy = f"write {ast.unparse(node.func)}(math.radians({number:g}))"
            yield RULE.finding("degrees", file.line(node), words, remedy)


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
    name = full_name(node, names)
    return math.pi if name.endswith(".pi") else math.tau if name.endswith(".tau") else number_of(node)


_CALCULATIONS: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
}


def _has_180(value: ast.AST) -> bool:
    return any(isinstance(part, ast.Constant) and part.value in (180, 360) for part in ast.walk(value))


RULE = Rule(
    {"radians": "an angle in radians where degrees are meant", "degrees": "an angle in degrees where radians are meant"}, _find
)
