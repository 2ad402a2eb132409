"""Radians in place of degrees, and degrees in place of radians, found in the text of a sketch."""

from __future__ import annotations

import ast
import math
import operator
from collections.abc import Callable, Iterator

from mothseed.check.fix import Fix
from mothseed.check.rule import Finding, Look, Rule
from mothseed.check.text import Scope, SourceFile, full_name, number_of

_DEGREES = {"turn", "heading", "sweep", "degrees", "start", "end", "step", "light"}
"""Keywords that take degrees."""
_DEGREE_CALLS = {"turned", "veer", "face", "bend", "spun", "rotation"}
_CIRCLES = {"math.pi", "math.tau", "numpy.pi"}
_INVERSES = {
    "math.radians", "numpy.radians", "numpy.deg2rad", "math.atan2", "math.atan", "math.asin", "math.acos", "numpy.arctan2",
    "numpy.arctan", "numpy.arcsin", "numpy.arccos", "cmath.phase", "numpy.angle",
}  # fmt: skip
"""What gives radians."""
_BACK = {"math.degrees", "numpy.degrees", "numpy.rad2deg"}
_RADIAN_CALLS = {"math.sin", "math.cos", "math.tan", "numpy.sin", "numpy.cos", "numpy.tan"}
_MOST_RADIANS = 6.2832
_LEAST_STEP = 10
"""Least step of a count in degrees; smaller steps may count anything."""


def _find(look: Look) -> Iterator[Finding]:
    for file in look.sources:
        for scope in file.scopes():
            for node in scope.nodes:
                if isinstance(node, ast.Call):
                    yield from _in_call(node, scope, file)


def _in_call(node: ast.Call, scope: Scope, file: SourceFile) -> Iterator[Finding]:
    names = file.names
    given = [keyword.value for keyword in node.keywords if keyword.arg in _DEGREES]
    if isinstance(node.func, ast.Attribute) and node.func.attr in _DEGREE_CALLS:
        given += node.args[:1]
    for value in given:
        if _is_in_radians(value, scope, names):
            words, remedy = f"{ast.unparse(value)} is in radians", _in_degrees(value, names)
            turn = _fraction_of_pi(value, names)
            fix = None if turn is None else Fix.of(file.path, value, f"{math.degrees(turn):g}")
            yield RULE.finding("radians", file.line(value), words, remedy, fix)
    if full_name(node.func, names) in _RADIAN_CALLS and node.args:
        angle = node.args[0]
        if _is_in_degrees(angle, scope, names):
            number, library = number_of(angle), full_name(node.func, names).split(".")[0]
            convert = "math.radians" if library == "math" else f"{ast.unparse(node.func).rpartition('.')[0] or 'numpy'}.radians"
            instead = f"{ast.unparse(node.func)}({convert}({file.written(angle) if number is None else f'{number:g}'}))"
            known = any(alias == convert.split(".", maxsplit=1)[0] for alias in names)
            fix = Fix.of(file.path, node, instead) if known else None
            yield RULE.finding("degrees", file.line(node), f"{ast.unparse(node)} takes radians", f"write {instead}", fix)


def _is_in_radians(value: ast.AST, scope: Scope, names: dict[str, str], depth: int = 4) -> bool:
    """Whether an angle is computed from pi, an inverse function, or a name that is only ever set to such a value."""
    # Radians converted back to degrees are fine.
    if any(full_name(part, names) in _BACK for part in ast.walk(value)) or _has_180(value):
        return False
    for part in ast.walk(value):
        if full_name(part, names) in _CIRCLES or (isinstance(part, ast.Call) and full_name(part.func, names) in _INVERSES):
            return True
        if depth and isinstance(part, ast.Name) and isinstance(part.ctx, ast.Load):
            set_to = scope.set_to(part.id)
            if all(each is not None and _is_in_radians(each, scope, names, depth - 1) for each in set_to):
                return True
    return False


def _is_in_degrees(angle: ast.AST, scope: Scope, names: dict[str, str]) -> bool:
    """Whether the argument of a sine is plainly in degrees: a whole number, a count of them, or a range over a full
    circle.
    """
    number = number_of(angle)
    if number is not None:
        return abs(number) > _MOST_RADIANS and number == int(number)
    match angle:
        case ast.BinOp(ast.Name(name), ast.Mult(), factor) | ast.BinOp(factor, ast.Mult(), ast.Name(name)):
            step = number_of(factor)
            return step is not None and _divides_a_circle(step) and _counts(name, scope)
        case ast.BinOp(left, ast.Add() | ast.Sub(), right):
            return any(_is_in_degrees(part, scope, names) for part in (left, right) if number_of(part) is None)
    if scope.holds(angle, lambda part: _is_circle_of_degrees(part, names)):
        return True
    return isinstance(angle, ast.Name) and any(_is_circle_of_degrees(each, names) for each in _gone_through(angle.id, scope))


def _divides_a_circle(step: float) -> bool:
    return abs(step) >= _LEAST_STEP and step == int(step) and 360 % abs(step) == 0


def _counts(name: str, scope: Scope) -> bool:
    """Whether a name counts the iterations of a loop."""
    loops = [(each.target, each.iter) for each in scope.nodes if isinstance(each, ast.For | ast.comprehension)]
    for target, through in loops:
        match target, through:
            case ast.Name(own), ast.Call(ast.Name("range")) if own == name:
                return True
            case ast.Tuple([ast.Name(own), *_]), ast.Call(ast.Name("enumerate")) if own == name:
                return True
    return False


def _gone_through(name: str, scope: Scope) -> list[ast.expr]:
    """The iterables of loops that set a name."""
    return [
        each.iter for each in scope.nodes
        if isinstance(each, ast.For | ast.comprehension) and isinstance(each.target, ast.Name) and each.target.id == name
    ]  # fmt: skip


def _is_circle_of_degrees(node: ast.AST, names: dict[str, str]) -> bool:
    """Whether an expression is a range that ends at a full circle, or has steps that divide one."""
    if not isinstance(node, ast.Call):
        return False
    numbers = [number_of(argument) for argument in node.args]
    match full_name(node.func, names) or ast.unparse(node.func):
        case "numpy.linspace":
            return len(numbers) >= 2 and numbers[0] is not None and numbers[1] in (180.0, 360.0, 720.0, -360.0, -180.0)
        case "range" | "numpy.arange":
            end, step = (numbers[0], None) if len(numbers) == 1 else (numbers[1], numbers[2] if len(numbers) > 2 else None)
            return end in (180.0, 360.0, 720.0) and (step is None or _divides_a_circle(step) or step in (1.0, 2.0, 3.0, 5.0))
    return False


def _in_degrees(value: ast.AST, names: dict[str, str]) -> str:
    """What to write instead of an angle in radians."""
    if isinstance(value, ast.Call) and len(value.args) == 1 and full_name(value.func, names).endswith(("radians", "deg2rad")):
        return f"angles are in degrees: write {ast.unparse(value.args[0])}"
    turn = _fraction_of_pi(value, names)
    if turn is not None:
        return f"angles are in degrees: write {math.degrees(turn):g}"
    return "write math.degrees(...) around it: angles are in degrees, pi is 180"


def _fraction_of_pi(node: ast.AST, names: dict[str, str]) -> float | None:
    """The value of a calculation with pi and plain numbers, or None for any other."""
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
