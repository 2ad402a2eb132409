"""Processes that make editions beside each other."""

from __future__ import annotations

import multiprocessing
import os
import signal
import threading
from concurrent.futures import ProcessPoolExecutor
from functools import lru_cache
from pathlib import Path

from mothseed.series.job import Edition, Job, make_edition
from mothseed.sketch import Sketch, load_sketch


def worker_pool(workers: int) -> ProcessPoolExecutor:
    """Processes for `make_edition_in_worker`.

    They start afresh rather than as copies of this process, whose threads a copy would not have.
    """
    return ProcessPoolExecutor(workers, mp_context=multiprocessing.get_context("spawn"), initializer=_begin)


def make_edition_in_worker(job: Job) -> Edition:
    """Make an edition with the sketch that this process has loaded for it."""
    return make_edition(_loaded(job.sketch), job)


@lru_cache(maxsize=1)
def _loaded(path: Path) -> Sketch:
    return load_sketch(path)


def _begin() -> None:
    # Ctrl-C reaches every process of a terminal; the parent decides, and lets what is being written be finished.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    threading.Thread(target=_leave_with_parent, daemon=True).start()


def _leave_with_parent() -> None:
    """A worker whose parent was killed would otherwise wait for work for ever."""
    parent = multiprocessing.parent_process()
    if parent is not None:
        parent.join()
        os._exit(1)
