"""Fresh processes in which a sketch is performed again: with other hashes than here, so that no order of a set is trusted."""

from __future__ import annotations

import os
from collections.abc import Iterator
from concurrent.futures import Executor
from contextlib import contextmanager

from mothseed.series.crew import processes


@contextmanager
def fresh_processes(count: int, hash_seed: int) -> Iterator[Executor]:
    """That many processes which order their sets by other hashes than those begun elsewhere."""
    with other_hashes(hash_seed), processes(count).open(count) as pool:
        yield pool


@contextmanager
def other_hashes(number: int) -> Iterator[None]:
    """Processes begun within order their sets by other hashes than those begun elsewhere."""
    before = os.environ.get("PYTHONHASHSEED")
    os.environ["PYTHONHASHSEED"] = str(number)
    try:
        yield
    finally:
        if before is None:
            del os.environ["PYTHONHASHSEED"]
        else:
            os.environ["PYTHONHASHSEED"] = before
