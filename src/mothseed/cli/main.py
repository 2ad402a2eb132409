"""The entry point of the command line."""

from __future__ import annotations

import atexit
import errno
import gc
import os
import sys

from mothseed._version import VERSION
from mothseed.cli import console
from mothseed.cli.commands import COMMANDS

TYPE_CHECKING = False
if TYPE_CHECKING:
    import argparse
    from collections.abc import Iterable, Sequence
    from typing import NoReturn

_DESCRIPTION = "Make, repeat and compare generative pictures from seeded sketches in Python."
_EPILOG = "mothseed COMMAND --help tells about a command. New here? Run: mothseed demo"
_WRONG_USAGE = 2
_OWN_MISTAKE = 70
"""EX_SOFTWARE of sysexits.h."""
_INTERRUPTED = 130
_NEW_OBJECTS = 100_000
"""Threshold of garbage collection. By default Python collects after each 700 new objects, going through half a million
imported objects again and again: a tenth of the time of a proof.
"""


def parser(names: Iterable[str] = COMMANDS) -> argparse.ArgumentParser:
    """The parser for these commands. Building it imports nothing that draws."""
    from importlib import import_module

    from mothseed.cli.parser import Parser

    top = Parser(prog="mothseed", description=_DESCRIPTION, epilog=_EPILOG)
    top.add_argument("--version", action="version", version=f"mothseed {VERSION}")
    commands = top.add_subparsers(title="commands", metavar="COMMAND", required=True)
    for name in names:
        import_module(f"mothseed.cli.{name}").add_parser(commands)
    return top


def program() -> NoReturn:
    """Run this process's command line and end the process, skipping Python's teardown of everything imported.

    The teardown takes a third of the time of importing. Exit handlers are run and output is flushed.
    """
    status = main()
    atexit._run_exitfuncs()
    for stream in (sys.stdout, sys.stderr):
        try:
            stream.flush()
        except (OSError, ValueError):  # it is closed, or nobody reads it; the failure was reported when it happened
            continue
    os._exit(status)


def main(arguments: Sequence[str] | None = None) -> int:
    """Run a command line and return its exit status: 0 done, 1 a finding or a failed edition, 2 wrong usage.

    A bug in Moth Seed itself gives 70.
    """
    gc.set_threshold(_NEW_OBJECTS)
    _take_any_letter()
    words = sys.argv[1:] if arguments is None else list(arguments)
    if _is_asked_to_complete():
        from mothseed.cli.completion import complete

        complete(parser())
    first = words[0] if words else ""
    try:
        if first in ("", "-h", "--help", "--version"):
            return _told_overview(first)
        if first not in COMMANDS and not first.startswith("-"):
            return _unknown(first)
        return _run(words, parser([first] if first in COMMANDS else COMMANDS))
    except console.ReaderLeftError:
        return 0


def _told_overview(first: str) -> int:
    """Print the overview; returns the exit status."""
    try:
        console.say_overview(f"mothseed {VERSION}" if first == "--version" else _overview(), asked=bool(first))
    except Exception as fault:
        from mothseed.faults import FileError  # help does without it

        if not isinstance(fault, FileError):
            raise
        console.tell_fault(fault)
        return fault.exit_status
    return 0 if first else _WRONG_USAGE


def _take_any_letter() -> None:
    """Escape characters that the encoding lacks instead of failing, and let closed streams take anything."""
    for name in ("stdout", "stderr"):
        stream = getattr(sys, name)
        if stream is None:
            setattr(sys, name, open(os.devnull, "w", encoding="utf-8"))  # noqa: PTH123, SIM115  # as long as the program
        elif hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="backslashreplace")


def _unknown(word: str) -> int:
    """Report an unknown command."""
    from mothseed.faults import UnknownNameError

    known = f"commands are {', '.join(COMMANDS)}"
    hint = f"{known}\n  mothseed --help tells about all commands"
    fault = UnknownNameError("", f"unknown command {word}", name=word, known=COMMANDS, hint=hint)
    console.tell_fault(fault)
    return fault.exit_status


def _is_asked_to_complete() -> bool:
    return "_ARGCOMPLETE" in os.environ


def _overview() -> str:
    """The overview in the help. Written by hand, since importing argparse alone takes as long as starting Python."""
    lines = [f"  {name:<{max(map(len, COMMANDS))}}  {purpose}" for name, purpose in COMMANDS.items()]
    return "\n".join(["usage: mothseed COMMAND ...", "", _DESCRIPTION, "", "commands:", *lines, "", _EPILOG])


def _run(words: Sequence[str], reader: argparse.ArgumentParser) -> int:
    """Run the command of a command line."""
    from mothseed.cli.ending import Terminated, ending_in_order
    from mothseed.cli.parser import in_own_terms
    from mothseed.faults import FileError, MothSeedError

    try:
        chosen = reader.parse_args(words)
    except SystemExit as stop:
        return int(stop.code or 0)
    try:
        _refuse_loops(chosen)
        with ending_in_order():
            return int(chosen.run(chosen))
    except MothSeedError as fault:
        if chosen.debug:
            raise
        console.tell_fault(in_own_terms(fault, chosen.command))
        return fault.exit_status
    except KeyboardInterrupt:
        console.note("Stopped. Finished work is kept; run the same command to continue.")
        return _INTERRUPTED
    except Terminated as ended:
        return ended.status
    except console.ReaderLeftError:
        raise
    except OSError as fault:
        # A name that is too long, a pipe, a failing disk: the system says best what is wrong.
        if chosen.debug or fault.strerror is None or isinstance(fault, BrokenPipeError):
            return _own_mistake(fault, debug=chosen.debug)
        words = f"{fault.filename or 'a file'} cannot be used: {fault.strerror}"
        console.tell_fault(FileError(words, hint=_remedy(fault)))
        return FileError.exit_status
    except Exception as fault:  # noqa: BLE001  # nobody foresaw it
        return _own_mistake(fault, debug=chosen.debug)


def _remedy(fault: OSError) -> str:
    """What to do about an error of the system."""
    if fault.errno in (errno.EMFILE, errno.ENFILE):
        return "allow more open files: ulimit -n 256"
    try:
        os.getcwd()  # noqa: PTH109  # only whether it is there
    except OSError:
        return "the folder that you are in is gone: change to another, with cd"
    return "look at its name and its permissions"


def _own_mistake(fault: Exception, *, debug: bool) -> int:
    if debug:
        raise fault
    console.tell_own_mistake(fault)
    return _OWN_MISTAKE


def _refuse_loops(chosen: argparse.Namespace) -> None:
    """Refuse links that lead to themselves, on which versions of Python disagree."""
    from pathlib import Path

    from mothseed.faults import FileError

    for path in vars(chosen).values():
        if isinstance(path, Path) and path.is_symlink():
            try:
                path.stat()
            except OSError as fault:
                if fault.errno == errno.ELOOP:
                    raise FileError(f"{path} is a link that leads to itself", hint="name the file itself") from None
