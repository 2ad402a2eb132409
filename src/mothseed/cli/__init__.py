"""The command line: one module for each command."""

from mothseed.cli.main import main, program

__all__ = ["main", "program"]
