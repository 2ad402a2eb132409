"""Numbers, times and orders that no seed decides, found in the text of a sketch."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from mothseed.check.fix import Fix
from mothseed.check.rule import Finding, Look, Rule
from mothseed.check.text import Scope, SourceFile, full_name

_MODULES = {"random", "secrets", "uuid", "getpass", "socket", "requests", "httpx", "aiohttp"}
_CALLS = {
    "numpy.random", "os.urandom", "time.time", "time.time_ns", "time.perf_counter", "time.monotonic", "datetime.datetime.now",
    "datetime.datetime.today", "datetime.datetime.utcnow", "datetime.date.today", "id", "hash", "input", "os.getpid",
    "os.getenv", "urllib.request.urlopen", "urllib.request.urlretrieve", "platform.node", "time.localtime", "time.ctime",
    "time.strftime",
}  # fmt: skip
_SEEDED = {
    "random.Random", "random.seed", "numpy.random.default_rng", "numpy.random.RandomState", "numpy.random.seed",
    "numpy.random.SeedSequence", "numpy.random.PCG64", "numpy.random.Philox", "numpy.random.MT19937", "numpy.random.SFC64",
    "numpy.random.Generator", "uuid.uuid3", "uuid.uuid5", "uuid.UUID",
}  # fmt: skip
"""Calls that give the same each time if they have an argument."""
_SEEDS_ALL = {"random.seed": "random", "numpy.random.seed": "numpy.random"}
_FOLDERS = {"os.listdir", "os.scandir", "os.walk", "glob.glob", "glob.iglob"}
_FOLDER_METHODS = {"iterdir", "glob", "rglob"}
_WHATEVER_ORDER = {"sorted", "len", "set", "frozenset", "min", "max", "sum", "any", "all"}
_IN_ORDER = {"list", "tuple", "enumerate", "zip", "map", "filter", "iter", "reversed"}
_PICKING = {"pick", "several", "shuffled", "join"}


def _find(look: Look) -> Iterator[Finding]:
    for file in look.sources:
        nodes = list(file.nodes())
        sorted_nodes = {id(argument) for node in nodes for argument in _unordered_arguments(node)}
        seeded = {_SEEDS_ALL[name] for node in nodes if (name := _called(node, file)) in _SEEDS_ALL and _is_given(node)}
        for node in nodes:
            yield from _in_call(node, file, sorted_nodes, seeded)
            if isinstance(node, ast.Attribute | ast.Subscript) and full_name(node, file.names) == "os.environ":
                yield RULE.finding("unseeded", file.line(node), "os.environ is another on each machine", "make it a dial")
        for scope in file.scopes():
            yield from _sets_in(scope, file)


def _called(node: ast.AST, file: SourceFile) -> str:
    return full_name(node.func, file.names) if isinstance(node, ast.Call) else ""


def _is_given(node: ast.AST) -> bool:
    """Whether a call has an argument to start from."""
    given = [*node.args, *(keyword.value for keyword in node.keywords)] if isinstance(node, ast.Call) else []
    return any(not (isinstance(each, ast.Constant) and each.value is None) for each in given)


def _unordered_arguments(node: ast.AST) -> Iterator[ast.AST]:
    """Arguments of calls for which order does not matter."""
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in _WHATEVER_ORDER:
        for argument in node.args:
            yield argument
            if isinstance(argument, ast.GeneratorExp | ast.ListComp):
                yield argument.generators[0].iter


def _in_call(node: ast.AST, file: SourceFile, whatever_order: set[int], seeded: set[str]) -> Iterator[Finding]:
    name = _called(node, file)
    if isinstance(node, ast.Call) and id(node) not in whatever_order:
        method = node.func.attr if isinstance(node.func, ast.Attribute) else ""
        if name in _FOLDERS or (method in _FOLDER_METHODS and not name):
            words = f"{ast.unparse(node.func)} gives the files of a folder in another order on each machine"
            fix = Fix.of(file.path, node, f"sorted({file.written(node)})") if name != "os.walk" else None
            yield RULE.finding("unseeded", file.line(node), words, "write sorted(...) around it", fix)
    if not name or (name in _SEEDED and _is_given(node)) or any(name.startswith(f"{module}.") for module in seeded):
        return
    if name.split(".")[0] in _MODULES or name in _CALLS or name.startswith("numpy.random."):
        yield RULE.finding("unseeded", file.line(node), f"{name}() gives something else each time", _remedy_for(name))


def _sets_in(scope: Scope, file: SourceFile) -> Iterator[Finding]:
    """Places where a set is iterated in its own order."""
    for node in scope.nodes:
        gone_through: list[ast.expr] = []
        match node:
            case ast.For(_, through) | ast.comprehension(_, through):
                gone_through = [through]
            case ast.Call(ast.Name(name), arguments) if name in _IN_ORDER:
                gone_through = [*arguments]
            case ast.Call(ast.Attribute(attr=name), [first, *_]) if name in _PICKING:
                gone_through = [first]
            case ast.Starred(value):
                gone_through = [value]
        for each in gone_through:
            if scope.holds(each, _is_set):
                words = "a set has another order in each process"
                fix = Fix.of(file.path, each, f"sorted({file.written(each)})")
                yield RULE.finding("unseeded", file.line(each), words, "write sorted(...), or a list", fix)


def _is_set(node: ast.AST) -> bool:
    match node:
        case ast.Set() | ast.SetComp() | ast.Call(ast.Name("set" | "frozenset")):
            return True
        case ast.BinOp(left, ast.BitOr() | ast.BitAnd() | ast.Sub() | ast.BitXor(), right):
            return _is_set(left) and _is_set(right)
    return False


def _remedy_for(name: str) -> str:
    if "time" in name or "date" in name:
        return "leave it out, or make it a dial"
    if name in ("id", "hash"):
        return "use the thing itself, or its place in a list"
    if name in ("input", "os.getenv", "os.getpid", "platform.node") or name.startswith("getpass."):
        return "make it a dial"
    if name.split(".", maxsplit=1)[0] in ("urllib", "socket", "requests", "httpx", "aiohttp"):
        return "keep a copy beside the sketch, and read that"
    return 'draw from chance: chance("name").between(0, 1)'


RULE = Rule({"unseeded": "a number, time or order that no seed decides"}, _find)
