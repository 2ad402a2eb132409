"""The command line: one module for each command."""

from mothseed.cli.main import main

__all__ = ["main"]
