"""Parsing command lines; errors are reported as everywhere else: what is wrong, and what to do."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence
from typing import Any, NoReturn

from mothseed.cli import console
from mothseed.cli.commands import COMMANDS
from mothseed.faults import FieldError, MothSeedError, UnknownNameError, UsageError

_OPTIONS_OF_FIELDS = {"dial": "set", "reseed": "reseed", "layer": "without"}
"""Options whose names differ from those of the fields in the core. A field may be followed by the name of a dial, stream or
layer.
"""


def command(
    commands: argparse._SubParsersAction[argparse.ArgumentParser], name: str, description: str, example: str
) -> argparse.ArgumentParser:
    """Add a command, with its purpose from the list of commands and an example below its help."""
    parser = commands.add_parser(name, help=COMMANDS[name], description=description, epilog=f"example: {example}")
    parser.set_defaults(command=parser)
    return parser


class Parser(argparse.ArgumentParser):
    """An argument parser that reports errors in our own form, with an example instead of all options."""

    def error(self, message: str) -> NoReturn:
        """Report what is wrong and end with the status of wrong usage; if it is about one argument, that exception is being
        handled.
        """
        fault = sys.exception()
        if isinstance(fault, argparse.ArgumentError):
            message = f"{fault.argument_name}: {fault.message}" if fault.argument_name else fault.message
        self.tell(UsageError(message))

    def tell(self, fault: MothSeedError) -> NoReturn:
        """Report an error in the command line itself."""
        command = self.prog.removeprefix("mothseed").strip()
        example = self.epilog if self.epilog and command else ""
        help_at = f"{self.prog} --help tells the rest" if command else "mothseed --help tells about all commands"
        hint = "\n  ".join(filter(None, [fault.hint, example, help_at]))
        console.tell_fault(UsageError(f"{command}: {fault.message}" if command else fault.message, hint=hint))
        raise SystemExit(fault.exit_status)

    def parse_known_args(self, args: Any = None, namespace: Any = None) -> Any:
        """As argparse does, but each command reports options that it does not have."""
        chosen, unknown = super().parse_known_args(args, namespace)
        if unknown:
            name = unknown[0].split("=")[0]
            if not name.startswith("-"):
                self.tell(UsageError(f"unexpected argument {name}", hint="put quotation marks around words with spaces"))
            self.tell(UnknownNameError("", f"unknown option {name}", name=name, known=self._option_names()))
        return chosen, unknown

    def _option_names(self) -> Sequence[str]:
        return [name for action in self._actions for name in action.option_strings]

    def option_of(self, field: str) -> str:
        """The option of this command for a field of the core: "--width" for width, "--set spots" for dial spots; or empty."""
        kind, _, name = field.partition(" ")
        wanted = _OPTIONS_OF_FIELDS.get(kind, field)
        for action in self._actions:
            if action.dest == wanted and action.option_strings:
                return f"{action.option_strings[-1]} {name}".strip()
        return ""


def in_own_terms(fault: MothSeedError, parser: argparse.ArgumentParser) -> MothSeedError:
    """An error of the core, worded for the command line: fields are called by their options."""
    field = getattr(fault, "field", "")
    option = parser.option_of(field) if field and isinstance(parser, Parser) else ""
    if not option:
        return fault
    if isinstance(fault, FieldError):
        fault.message = fault.told_as(option)
    else:
        fault.hint = f"{fault.hint} with {option}"
    return fault
