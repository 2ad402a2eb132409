"""Reading command lines; what is wrong with one is told as all else is: what, and what to do."""

from __future__ import annotations

import argparse
import re
from collections.abc import Sequence
from typing import Any, NoReturn

from mothseed.cli import console
from mothseed.cli.commands import COMMANDS
from mothseed.errors import MothSeedError, UsageError, did_you_mean


def command(
    commands: argparse._SubParsersAction[argparse.ArgumentParser], name: str, description: str, example: str
) -> argparse.ArgumentParser:
    """Add a command, with what it is for from the list of commands, and an example below its help."""
    return commands.add_parser(name, help=COMMANDS[name], description=description, epilog=f"example: {example}")


class Parser(argparse.ArgumentParser):
    """An argument parser that tells a fault in our words, with an example rather than with all options."""

    def error(self, message: str) -> NoReturn:
        """Tell what is wrong and end with the status of wrong usage."""
        command = self.prog.removeprefix("mothseed").strip()
        fault = self._in_our_words(message)
        example = self.epilog if self.epilog and command else ""
        help_at = f"{self.prog} --help tells the rest" if command else "mothseed --help tells about all commands"
        hint = "\n  ".join(filter(None, [fault.hint, example, help_at]))
        console.tell_fault(UsageError(f"{command}: {fault.message}" if command else fault.message, hint=hint))
        raise SystemExit(UsageError.exit_status)

    def parse_known_args(self, args: Any = None, namespace: Any = None) -> Any:
        """As argparse does, but each command tells itself of options that it does not have."""
        chosen, unknown = super().parse_known_args(args, namespace)
        if unknown:
            self.error(f"unrecognized arguments: {' '.join(unknown)}")
        return chosen, unknown

    def _in_our_words(self, message: str) -> MothSeedError:
        if unknown := re.match(r"argument COMMAND: invalid choice: '(.*?)' \(choose from (.*)\)", message):
            commands = re.findall(r"[\w-]+", unknown[2])
            hint = did_you_mean(unknown[1], commands) or f"commands are {', '.join(commands)}"
            return UsageError(f"there is no command {unknown[1]}", hint=hint)
        if missing := re.match(r"the following arguments are required: (.*)", message):
            return UsageError(f"{missing[1]} is missing")
        if extra := re.match(r"unrecognized arguments: (\S+)", message):
            if not extra[1].startswith("-"):
                return UsageError(f"{extra[1]} is one word too many", hint="put quotation marks around words with spaces")
            return UsageError(f"there is no option {extra[1]}", hint=did_you_mean(extra[1].split("=")[0], self._options()))
        if lacking := re.match(r"argument (\S+?)(?:/\S+)?: expected (?:one|at least one) argument", message):
            return UsageError(f"{lacking[1]} needs a value")
        return UsageError(re.sub(r"^argument (\S+): ", r"\1: ", message))

    def _options(self) -> Sequence[str]:
        return [name for action in self._actions for name in action.option_strings]
