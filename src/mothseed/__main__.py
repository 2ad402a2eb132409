"""Runs the command line as `python -m mothseed`."""

from mothseed.cli.main import program

if __name__ == "__main__":
    program()
