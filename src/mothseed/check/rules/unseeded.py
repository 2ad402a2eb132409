"""Numbers, times and orders that no seed decides, told from the text of a sketch."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from mothseed.check.rule import Finding, Look, Rule
from mothseed.check.text import SourceFile, full_name, source_files
from mothseed.sketch.trace import Line

_MODULES = {"random", "secrets", "uuid"}
_CALLS = {
    "numpy.random", "os.urandom", "time.time", "time.time_ns", "time.perf_counter", "time.monotonic", "datetime.datetime.now",
    "datetime.datetime.today", "datetime.datetime.utcnow", "datetime.date.today", "id", "hash",
}  # fmt: skip


def _find(look: Look) -> Iterator[Finding]:
    for file in source_files(look.sketch):
        for node in ast.walk(file.tree):
            yield from _in_node(node, file)


def _in_node(node: ast.AST, file: SourceFile) -> Iterator[Finding]:
    if isinstance(node, ast.Call):
        name = full_name(node.func, file.names)
        if name.split(".")[0] in _MODULES or name in _CALLS or name.startswith("numpy.random."):
            yield RULE.finding("unseeded", file.line(node), f"{name}() gives something else each time", _remedy_for(name))
    iterated = node.iter if isinstance(node, ast.For | ast.comprehension) else None
    if iterated is not None and (isinstance(iterated, ast.Set | ast.SetComp) or _is_set_call(iterated)):
        where = Line(str(file.path), iterated.lineno)
        yield RULE.finding("unseeded", where, "a set has another order in each process", "write sorted(...), or a list")


def _is_set_call(node: ast.AST) -> bool:
    return isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ("set", "frozenset")


def _remedy_for(name: str) -> str:
    if "time" in name or "date" in name:
        return "leave it out, or make it a dial"
    if name in ("id", "hash"):
        return "use the thing itself, or its place in a list"
    return 'draw from chance: chance("name").between(0, 1)'


RULE = Rule({"unseeded": "a number, time or order that no seed decides"}, _find)
