"""Reading command lines; what is wrong with one is told as all else is: what, and what to do."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence
from typing import Any, NoReturn

from mothseed.cli import console
from mothseed.cli.commands import COMMANDS
from mothseed.faults import FieldError, MothSeedError, UnknownNameError, UsageError

_OPTIONS_OF_FIELDS = {"dial": "set", "reseed": "reseed", "layer": "without"}
"""Where an option is not called as the core calls what it sets. Behind the field stands which dial, stream or layer it is."""


def command(
    commands: argparse._SubParsersAction[argparse.ArgumentParser], name: str, description: str, example: str
) -> argparse.ArgumentParser:
    """Add a command, with what it is for from the list of commands, and an example below its help."""
    parser = commands.add_parser(name, help=COMMANDS[name], description=description, epilog=f"example: {example}")
    parser.set_defaults(command=parser)
    return parser


class Parser(argparse.ArgumentParser):
    """An argument parser that tells a fault as all others are told, with an example rather than with all options."""

    def error(self, message: str) -> NoReturn:
        """Tell what is wrong and end with the status of wrong usage; where one argument is, that is in flight as such."""
        fault = sys.exception()
        if isinstance(fault, argparse.ArgumentError):
            message = f"{fault.argument_name}: {fault.message}" if fault.argument_name else fault.message
        self.tell(UsageError(message))

    def tell(self, fault: MothSeedError) -> NoReturn:
        """Tell a fault of the line itself."""
        command = self.prog.removeprefix("mothseed").strip()
        example = self.epilog if self.epilog and command else ""
        help_at = f"{self.prog} --help tells the rest" if command else "mothseed --help tells about all commands"
        hint = "\n  ".join(filter(None, [fault.hint, example, help_at]))
        console.tell_fault(UsageError(f"{command}: {fault.message}" if command else fault.message, hint=hint))
        raise SystemExit(fault.exit_status)

    def parse_known_args(self, args: Any = None, namespace: Any = None) -> Any:
        """As argparse does, but each command tells itself of options that it does not have."""
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
        """What this command calls a field of the core's: "--width" for width, "--set spots" for dial spots; or empty."""
        kind, _, name = field.partition(" ")
        wanted = _OPTIONS_OF_FIELDS.get(kind, field)
        for action in self._actions:
            if action.dest == wanted and action.option_strings:
                return f"{action.option_strings[-1]} {name}".strip()
        return ""


def in_own_terms(fault: MothSeedError, parser: argparse.ArgumentParser) -> MothSeedError:
    """A fault of the core as a command says it: what was asked for is called by its option."""
    field = getattr(fault, "field", "")
    option = parser.option_of(field) if field and isinstance(parser, Parser) else ""
    if not option:
        return fault
    if isinstance(fault, FieldError):
        fault.message = fault.told_as(option)
    else:
        fault.hint = f"{fault.hint} with {option}"
    return fault
