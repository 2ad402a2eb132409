"""Shell completion: commands and options by argcomplete, and the dials of the sketch on the line."""

from __future__ import annotations

import argparse
import ast
from collections.abc import Iterator
from pathlib import Path


def complete(parser: argparse.ArgumentParser) -> None:
    """Answer a request of the shell for completions, and end."""
    import argcomplete
    from argcomplete.completers import FilesCompleter

    for action in _all_actions(parser):
        match action.dest:
            case "sketch":
                action.completer = FilesCompleter(("py", "toml"))  # type: ignore[attr-defined]
            case "what":
                action.completer = FilesCompleter(("py", "png"))  # type: ignore[attr-defined]
            case "settings" | "keep_settings":
                action.completer = _settings  # type: ignore[attr-defined]
            case "set" | "vary":
                action.completer = _dials  # type: ignore[attr-defined]
    argcomplete.autocomplete(parser)


def _all_actions(parser: argparse.ArgumentParser) -> Iterator[argparse.Action]:
    for action in parser._actions:
        yield action
        if isinstance(action, argparse._SubParsersAction):
            for command in action.choices.values():
                yield from _all_actions(command)


def _sketch_on(line: argparse.Namespace) -> Path:
    """The file on a command line where a sketch may be."""
    return Path(str(getattr(line, "sketch", None) or getattr(line, "what", None) or getattr(line, "first", None)))


def _settings(prefix: str, parsed_args: argparse.Namespace, **_: object) -> list[str]:
    """The names of kept settings of the sketch on the line."""
    from mothseed.faults import MothSeedError
    from mothseed.sketch.named_dials import kept_settings

    try:
        return [name for name in kept_settings(_sketch_on(parsed_args)) if name.startswith(prefix)]
    except MothSeedError:
        return []


def _dials(prefix: str, parsed_args: argparse.Namespace, **_: object) -> list[str]:
    """The dials of the sketch on the line, each with an equals sign; read from its source without running it."""
    try:
        tree = ast.parse(_sketch_on(parsed_args).read_bytes())
    except (OSError, SyntaxError, ValueError):
        return []
    names = [
        argument.arg
        for node in ast.walk(tree)
        if isinstance(node, ast.FunctionDef) and any("artwork" in ast.dump(mark) for mark in node.decorator_list)
        for argument in node.args.kwonlyargs
    ]
    return [f"{name}=" for name in names if name.startswith(prefix)]
