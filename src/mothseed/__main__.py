"""Runs the command line as `python -m mothseed`."""

import sys

from mothseed.cli.main import main

if __name__ == "__main__":
    sys.exit(main())
