"""Streams drawn from in a loop without a key, and seeds that change nothing."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from mothseed.chance.telling import DISTRIBUTIONS
from mothseed.check.rule import Finding, Look, Rule
from mothseed.check.text import SourceFile
from mothseed.sheet import fingerprint
from mothseed.told import counted


def _find(look: Look) -> Iterator[Finding]:
    draws = sum(len(impression.origins.draws) for impression in look.impressions if impression.origins)
    if len(look.impressions) > 1 and draws and len({fingerprint(each.drawing) for each in look.impressions}) == 1:
        words = f"{counted(len(look.impressions), 'seed')} draw the same, though chance is drawn from"
        yield RULE.finding("seeds-alike", look.artwork_line, words, "see that what chance gives is drawn with")
    function = look.sketch.artwork.function
    given = function.__code__.co_varnames[1] if function.__code__.co_argcount > 1 else ""
    for file in look.sources:
        if file.path == look.sketch.path and given:
            yield from _in_loops(file, function.__name__, given)


def _in_loops(file: SourceFile, artwork: str, given: str) -> Iterator[Finding]:
    """Draws in loops of the artwork from the root stream, or from a stream without a key."""
    for node in file.nodes():
        if not (isinstance(node, ast.FunctionDef) and node.name == artwork):
            continue
        told: set[int] = set()
        for loop in ast.walk(node):
            for part in _repeated(loop):
                for each in ast.walk(part):
                    match each:
                        case ast.Call(ast.Attribute(ast.Call(ast.Name(name), [ast.Constant(str() as stream)]), drawn)):
                            words = (
                                f"{name}({stream!r}) continues from one pass to the next: leaving one out redraws all after it"
                            )
                            remedy = f"give it a key: {name}({stream!r}, index)"
                        case ast.Call(ast.Attribute(ast.Name(name), drawn)):
                            words = f"{name} itself continues from one pass to the next: any other draw moves all after it"
                            remedy = f'draw from a branch with a key: {name}("spot", index)'
                        case _:
                            continue
                    if name == given and drawn in DISTRIBUTIONS and each.lineno not in told:
                        told.add(each.lineno)
                        yield RULE.finding("keyless-stream", file.line(each), words, remedy)


def _repeated(node: ast.AST) -> list[ast.AST]:
    """The parts of a loop that run in every iteration."""
    match node:
        case ast.For(body=body) | ast.While(body=body):
            return [*body]
        case ast.ListComp(element) | ast.SetComp(element) | ast.GeneratorExp(element):
            return [element]
    return []


RULE = Rule(
    {
        "seeds-alike": "all seeds draw the same",
        "keyless-stream": "a stream without a key in a loop",
    },
    _find,
)
