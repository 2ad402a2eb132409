"""Views that are never drawn on, and draws whose results are unused, found in the text of a sketch."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from mothseed.chance.telling import DISTRIBUTIONS
from mothseed.check.fix import Fix
from mothseed.check.rule import Finding, Look, Rule

_MAKING_VIEWS = {"styled", "frame", "mirrored", "spun", "clipped", "inset", "centred"}
"""Calls that make a view and draw nothing. Making a layer may be all that is intended, as it fixes its place in the order."""


def _find(look: Look) -> Iterator[Finding]:
    for file in look.sources:
        for node in file.nodes():
            match node:
                case ast.Expr(ast.Call(ast.Attribute(on, name)) as call) if name in _MAKING_VIEWS:
                    whole = isinstance(on, ast.Name)
                    instead = f"{file.written(on)} = {file.written(call)}"
                    remedy = f"write {instead}, or draw on what it gives" if whole else "draw on what it gives"
                    fix = Fix.of(file.path, node, instead) if whole else None
                    words = f"{name}(...) gives a new view and leaves the old one as it is"
                    yield RULE.finding("unused-view", file.line(node), words, remedy, fix)
                case ast.Expr(ast.Call(ast.Attribute(on, name)) as call) if name in DISTRIBUTIONS and _is_chance(on):
                    if not any(keyword.arg == "label" for keyword in call.keywords):
                        words = f"what {ast.unparse(call)} gives is not used"
                        remedy = 'use it, keep it with label="...", or leave it out'
                        yield RULE.finding("unused-draw", file.line(node), words, remedy)


def _is_chance(node: ast.AST) -> bool:
    """Whether an expression is chance, or a branch of it."""
    while isinstance(node, ast.Call):
        node = node.func
    return isinstance(node, ast.Name) and node.id in ("chance", "own")


RULE = Rule(
    {
        "unused-view": "a view that is made and not drawn on",
        "unused-draw": "a draw that nothing comes of",
    },
    _find,
    several=True,
)
