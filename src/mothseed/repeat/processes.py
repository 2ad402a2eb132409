"""Fresh processes for performing a sketch again, with different hash seeds, so that reliance on the order of a set shows."""

from __future__ import annotations

import os
from collections.abc import Iterator
from concurrent.futures import Executor
from contextlib import contextmanager

from mothseed.series.crew import processes


@contextmanager
def fresh_processes(count: int, hash_seed: int) -> Iterator[Executor]:
    """That many processes with hash seeds different from those of processes started elsewhere."""
    with other_hashes(hash_seed), processes(count).open(count) as pool:
        yield pool


@contextmanager
def other_hashes(number: int) -> Iterator[None]:
    """A block in which processes are started with different hash seeds."""
    before = os.environ.get("PYTHONHASHSEED")
    os.environ["PYTHONHASHSEED"] = str(number)
    try:
        yield
    finally:
        if before is None:
            del os.environ["PYTHONHASHSEED"]
        else:
            os.environ["PYTHONHASHSEED"] = before
