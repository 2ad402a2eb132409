"""Editions made by the workers of a Dask scheduler, on this machine or many.

Workers need Moth Seed, and see none of this machine's files: the source of the sketch goes with the work, and the pictures come
back with the answers.
"""

from __future__ import annotations

import atexit
import logging
import math
import os
import socket
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import BrokenExecutor, CancelledError
from contextlib import contextmanager, nullcontext
from dataclasses import dataclass, replace
from functools import lru_cache
from hashlib import blake2b
from pathlib import Path
from secrets import token_hex
from typing import Any
from urllib.parse import urlsplit

from mothseed.faults import SeriesError, UsageError
from mothseed.files import begin_folder, end_folder, write_bytes
from mothseed.series.crew import Crew
from mothseed.series.edition import Edition
from mothseed.series.job import Job, make_edition
from mothseed.series.limits import NO_LIMITS, Limits, limit_memory
from mothseed.series.other_forms import refuse_link
from mothseed.series.run import Request
from mothseed.sketch import Sketch, load_sketch

_SENT_SUFFIXES = {".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".gif", ".json", ".txt"}
"""Kinds of file beside the sketch that it may read while it draws, which is not known beforehand."""
_MOST_SENT = 64_000_000
_SIGN_SUFFIX = ".here"
_BETWEEN_COUNTS = 2.0
"""Seconds from one count of the workers to the next."""
_WAIT = 10.0
_WAIT_FOR_ANYBODY = 3.0


@dataclass(frozen=True, slots=True)
class Bundle:
    """The source of a sketch: the name of its file, and files by their path relative to one folder."""

    sketch: str
    files: tuple[tuple[str, bytes], ...]

    @property
    def digest(self) -> str:
        """What tells it from other bundles."""
        digest = blake2b(self.sketch.encode(), digest_size=16)
        for name, content in self.files:
            digest.update(f"{len(name)} {name} {len(content)} ".encode() + content)
        return digest.hexdigest()


Made = tuple[Edition, dict[str, bytes]]
"""An edition, and the content of its files, by their path in the folder of the series."""


def bundled(sketch: Sketch) -> Bundle:
    """All that a sketch is made of: its file, its modules, the pictures it has read, and those that lie beside it.

    Raises UsageError for more than can be sent with each piece of work.
    """
    beside = [path for path in sorted(sketch.folder.iterdir()) if path.suffix.lower() in _SENT_SUFFIXES and path.is_file()]
    own = {sketch.path, *sketch.module_files(), *sketch.pictures}
    paths = sorted(own | set(beside))
    size = sum(path.stat().st_size for path in paths)
    if size > _MOST_SENT:
        # What lies beside it may have nothing to do with it; what it has read has.
        paths = sorted(own)
        size = sum(path.stat().st_size for path in paths)
    if size > _MOST_SENT:
        raise UsageError(
            f"the sketch and its pictures have {size / 1e6:.0f} MB, too much to send to a cluster", hint="use smaller pictures"
        )
    root = Path(os.path.commonpath([path.parent for path in paths]))
    files = tuple((path.relative_to(root).as_posix(), path.read_bytes()) for path in paths)
    return Bundle(sketch.path.relative_to(root).as_posix(), files)


@contextmanager
def cluster_crew(address: str, request: Request, limits: Limits = NO_LIMITS) -> Iterator[Crew]:
    """A crew of the workers of a scheduler, however many there are at a time.

    A worker that is lost has its work done by another, and one that comes gets some. Those that see the folder of the series
    write into it; from the others the pictures come back. Raises UsageError where Dask is not installed, nobody answers at the
    address, or there are no workers.
    """
    try:
        import distributed
    except ImportError:
        raise UsageError("a cluster needs Dask", hint='install it: pip install "mothseed[cluster]"') from None
    _ask_for(address)
    for logger in ("distributed", "distributed.client"):
        logging.getLogger(logger).setLevel(logging.CRITICAL)  # what matters is told in our own words
    try:
        client: Any = distributed.Client(address, timeout=_WAIT, set_as_default=False)  # type: ignore[no-untyped-call]
    except (OSError, TimeoutError, ValueError) as fault:
        raise _no_answer(address, fault) from None
    with client, sign_in(request.folder) as sign:
        threads = sum(client.nthreads().values())
        if not threads:
            raise UsageError(f"the scheduler at {address} has no workers", hint="start some: dask worker " + address)
        gone = (CancelledError, distributed.client.ClosedClientError, OSError)
        lost = (BrokenExecutor, distributed.scheduler.KilledWorker, *gone)
        try:
            yield _crew(client, request, Workplace(sign, limits), lost)
        except gone:
            raise _gone(address) from None


@dataclass(frozen=True, slots=True)
class Workplace:
    """Where and within which limits work is done."""

    sign: Path
    """a file that only those see who share the folder of the series"""
    limits: Limits

    @property
    def is_seen(self) -> bool:
        """Whether this process shares the folder, and may write into it."""
        try:
            return self.sign.read_text() == self.sign.name and os.access(self.sign.parent, os.W_OK)
        except OSError:
            return False


@contextmanager
def sign_in(folder: Path) -> Iterator[Path]:
    """A file in a folder that nobody else's has, to tell by whether that folder is shared."""
    for left in folder.glob(f".*{_SIGN_SUFFIX}"):  # by a run that was killed
        left.unlink(missing_ok=True)
    sign = folder.absolute() / f".{token_hex(12)}{_SIGN_SUFFIX}"
    write_bytes(sign, sign.name.encode())
    try:
        yield sign
    finally:
        sign.unlink(missing_ok=True)


def _ask_for(address: str) -> None:
    """See whether anybody is at an address at all, which takes no time, before Dask tries for longer."""
    try:
        place = urlsplit(address)
        host, port = place.hostname, place.port
    except ValueError:
        host = port = None
    if not (host and port):
        raise UsageError(f"{address!r} is not the address of a scheduler", hint="write such as tcp://10.0.0.5:8786")
    try:
        socket.create_connection((host, port), timeout=_WAIT_FOR_ANYBODY).close()
    except OSError as fault:
        raise _no_answer(address, fault) from None


def _no_answer(address: str, fault: Exception) -> UsageError:
    words = (getattr(fault, "strerror", None) or str(fault) or type(fault).__name__).splitlines()[0]
    return UsageError(f"no scheduler answers at {address}: {words}", hint="look at the address and whether it runs")


def _gone(address: str) -> SeriesError:
    hint = "what was made is kept: start it again, and run the same command to continue"
    return SeriesError(f"the scheduler at {address} was lost", hint=hint)


def _crew(client: Any, request: Request, place: Workplace, lost: tuple[type[BaseException], ...]) -> Crew:
    folder = request.folder
    # Sent once; what goes with each piece of work is a reference to it.
    bundle = client.scatter(bundled(request.sketch), broadcast=True)
    executor = client.get_executor(pure=False)

    def received(made: list[Made]) -> list[Edition]:
        editions = []
        for edition, contents in made:
            for name in {edition.file, *edition.files} & contents.keys():
                refuse_link(folder / name)
                write_bytes(folder / name, contents[name], through_links=False)
            editions.append(edition)
        return editions

    def check() -> None:
        # A scheduler that was started again knows nothing of what was sent to the one before.
        if client.status != "running" or bundle.status not in ("pending", "finished"):
            raise _gone(client.scheduler.address if client.scheduler else "that address")

    there = _Count(client)
    return Crew(there, lambda _workers: nullcontext(executor), make_chunk_anywhere, received, (bundle, place), lost, check)


class _Count:
    """How many there are to do work; workers come and go."""

    def __init__(self, client: Any) -> None:
        self._client = client
        self._known, self._asked = 1, -math.inf

    def __call__(self) -> int:
        """The threads of all workers, at least one; asked for now and then, as it takes a message there and back."""
        if time.monotonic() - self._asked > _BETWEEN_COUNTS:
            self._known, self._asked = max(sum(self._client.nthreads().values()), 1), time.monotonic()
        return self._known


def make_chunk_anywhere(bundle: Bundle, place: Workplace, jobs: list[Job]) -> list[Made]:
    """Make editions from the source that came with the work."""
    sketch = _unpacked(bundle)
    _limit_memory_once(place.limits.memory)
    if place.is_seen:
        here = [replace(job, sketch=sketch.path, folder=place.sign.parent, copy=None) for job in jobs]
        return [(make_edition(sketch, job, place.limits), {}) for job in here]
    made: list[Made] = []
    for job in jobs:
        with tempfile.TemporaryDirectory() as folder:
            own = replace(job, sketch=sketch.path, folder=Path(folder), copy=None)
            edition = make_edition(sketch, own, place.limits)
            names = () if edition.failed else (edition.file, *edition.files)
            contents = {name: (Path(folder) / name).read_bytes() for name in names}
        made.append((edition, contents))
    return made


@lru_cache(maxsize=1)
def _limit_memory_once(memory: int | None) -> None:
    limit_memory(memory)


@lru_cache(maxsize=4)
def _unpacked(bundle: Bundle) -> Sketch:
    """The sketch of a bundle, its files laid out in a folder of this process's own; the same for each piece of work."""
    folder = begin_folder("mothseed-work-")
    atexit.register(end_folder, folder)
    for name, content in bundle.files:
        path = folder / name
        if not path.resolve().is_relative_to(folder.resolve()):
            raise UsageError(f"{name} leads out of the folder that the work is done in")
        write_bytes(path, content)
    return load_sketch(folder / bundle.sketch)
