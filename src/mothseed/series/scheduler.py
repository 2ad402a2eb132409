"""Editions made by the workers of a Dask scheduler, on this machine or many.

Workers need Moth Seed, and see none of this machine's files: the source of the sketch goes with the work, and the pictures come
back with the answers.
"""

from __future__ import annotations

import atexit
import os
import socket
import tempfile
from collections.abc import Iterator
from concurrent.futures import BrokenExecutor, CancelledError
from contextlib import contextmanager, nullcontext
from dataclasses import dataclass, replace
from functools import lru_cache
from hashlib import blake2b
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from mothseed.faults import UsageError
from mothseed.files import begin_folder, end_folder, write_bytes
from mothseed.series.crew import Crew
from mothseed.series.edition import Edition
from mothseed.series.job import Job, make_edition
from mothseed.series.other_forms import refuse_link
from mothseed.series.run import Request
from mothseed.sketch import Sketch, load_sketch

_SENT_SUFFIXES = {".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".gif", ".json", ".txt"}
"""Kinds of file beside the sketch that it may read while it draws, which is not known beforehand."""
_MOST_SENT = 64_000_000
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
def cluster_crew(address: str, request: Request) -> Iterator[Crew]:
    """A crew of the workers of a scheduler.

    A worker that is lost has its work done by another. Raises UsageError where Dask is not installed, nobody answers at the
    address, or there are no workers.
    """
    try:
        import distributed
    except ImportError:
        raise UsageError("a cluster needs Dask", hint='install it: pip install "mothseed[cluster]"') from None
    _ask_for(address)
    try:
        client: Any = distributed.Client(address, timeout=_WAIT, set_as_default=False)  # type: ignore[no-untyped-call]
    except (OSError, TimeoutError, ValueError) as fault:
        raise _no_answer(address, fault) from None
    with client:
        threads = sum(client.nthreads().values())
        if not threads:
            raise UsageError(f"the scheduler at {address} has no workers", hint="start some: dask worker " + address)
        yield _crew(client, threads, request, (BrokenExecutor, distributed.scheduler.KilledWorker, CancelledError))


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


def _crew(client: Any, threads: int, request: Request, lost: tuple[type[BaseException], ...]) -> Crew:
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

    return Crew(threads, lambda _workers: nullcontext(executor), make_chunk_anywhere, received, (bundle,), lost)


def make_chunk_anywhere(bundle: Bundle, jobs: list[Job]) -> list[Made]:
    """Make editions from the source that came with the work."""
    sketch = _unpacked(bundle)
    made: list[Made] = []
    for job in jobs:
        with tempfile.TemporaryDirectory() as folder:
            edition = make_edition(sketch, replace(job, sketch=sketch.path, folder=Path(folder), copy=None))
            names = () if edition.failed else (edition.file, *edition.files)
            contents = {name: (Path(folder) / name).read_bytes() for name in names}
        made.append((edition, contents))
    return made


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
