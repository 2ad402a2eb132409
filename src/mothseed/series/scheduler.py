"""Editions made by the workers of a Dask scheduler, on this machine or many."""

from __future__ import annotations

import asyncio
import logging
import math
import socket
import time
from collections.abc import Callable, Iterator
from concurrent.futures import BrokenExecutor, CancelledError, Executor, Future
from contextlib import contextmanager, nullcontext, suppress
from typing import Any, cast
from urllib.parse import urlsplit

from mothseed.faults import SeriesError, UsageError
from mothseed.files import write_bytes
from mothseed.series.crew import Crew, Stop
from mothseed.series.edition import Edition
from mothseed.series.limits import NO_LIMITS, Limits
from mothseed.series.other_forms import refuse_link
from mothseed.series.run import Request
from mothseed.series.sent_work import Bundle, Made, Workplace, bundled, make_chunk_anywhere, sign_in

Tell = Callable[[str], None]

_BETWEEN_COUNTS = 2.0
"""Seconds between two counts of the workers."""
_WAIT = 10.0
_WAIT_FOR_ANYBODY = 3.0
_BETWEEN_TRIES = 1.0
_PATIENCE = 600.0
"""Seconds to wait for a lost scheduler: enough to restart it by hand."""


@contextmanager
def cluster_crew(address: str, request: Request, tell: Tell, limits: Limits = NO_LIMITS) -> Iterator[Crew]:
    """A crew of the workers of a scheduler, however many there are at any time.

    The work of a lost worker goes to another, and a new one gets its share. Workers that see the folder of the series write
    into it; the others send their pictures back. If the scheduler is lost, `tell` gets a message, and the crew goes on once
    there is a scheduler at the address again. Raises UsageError if Dask is not installed, nobody answers at the address, or
    there are no workers.
    """
    try:
        import distributed
    except ImportError:
        raise UsageError("a cluster needs Dask", hint='install it: pip install "mothseed[cluster]"') from None
    for logger in ("distributed", "distributed.client", "tornado.application", "asyncio"):
        logging.getLogger(logger).setLevel(logging.CRITICAL)  # we report what matters ourselves
    folder = request.folder
    lost = (BrokenExecutor, distributed.scheduler.KilledWorker, CancelledError, distributed.client.ClosedClientError, OSError)
    with sign_in(folder) as sign:
        connection = _Connection(address, bundled(request.sketch), tell)

        def received(made: list[Made]) -> list[Edition]:
            connection.is_of_use()
            for edition, contents in made:
                for name in {edition.file, *edition.files} & contents.keys():
                    refuse_link(folder / name)
                    write_bytes(folder / name, contents[name], through_links=False)
            return [edition for edition, _ in made]

        try:
            yield Crew(
                workers=connection.workers,
                open=lambda _workers: nullcontext(connection),
                task=make_chunk_anywhere,
                received=received,
                given=(Workplace(sign, limits),),
                lost=lost,
                is_there=connection.is_there,
                restore=connection.restore,
            )
        finally:
            connection.close()


class _Connection(Executor):
    """A connection to a scheduler. Each task gets the source of the sketch as its first argument, which is sent only once.

    What Dask raises when its scheduler is lost depends on what it was doing at the time, and no list of exceptions would be
    complete; so after any of them we ask whether the scheduler is there.
    """

    def __init__(self, address: str, bundle: Bundle, tell: Tell) -> None:
        self._address, self._bundle, self._tell = address, bundle, tell
        self._known = 1
        self._lost_since: float | None = None
        self._client: Any = None
        self._connect()

    def _connect(self) -> None:
        """Raises UsageError if nobody answers or there are no workers."""
        import distributed

        _ask_for(self._address)
        try:
            self._client = distributed.Client(self._address, timeout=_WAIT, set_as_default=False)  # type: ignore[no-untyped-call]
            self._refuse_without_workers()
            self._scheduler = self._client.scheduler_info()["id"]
            self._sent = self._client.scatter(self._bundle, broadcast=True)
        except BaseException as fault:
            self.close()
            # A scheduler lost in the middle of this can show in many ways.
            if isinstance(fault, Exception | asyncio.CancelledError) and not isinstance(fault, UsageError):
                raise _no_answer(self._address, fault) from None
            raise
        self._executor = self._client.get_executor(pure=False)
        self._counted = -math.inf

    def _refuse_without_workers(self) -> None:
        if not self._client.nthreads():
            hint = f"start some: dask worker {self._address}"
            raise UsageError(f"the scheduler at {self._address} has no workers", hint=hint)

    def submit(self, task: Any, /, *arguments: Any, **more: Any) -> Future[Any]:
        """Hand a task to the workers; raises BrokenExecutor if the scheduler is lost."""
        try:
            return cast("Future[Any]", self._executor.submit(task, self._sent, *arguments, **more))
        except Exception:
            if self.is_there():
                raise
            raise BrokenExecutor(f"the scheduler at {self._address} was lost") from None

    def workers(self) -> int:
        """The threads of all workers, at least one. Refreshed now and then, as it takes a round trip."""
        if time.monotonic() - self._counted > _BETWEEN_COUNTS:
            with suppress(Exception):  # whatever a lost scheduler raises: its tasks will report it
                self._known = max(sum(self._client.nthreads().values()), 1)
            self._counted = time.monotonic()
        return self._known

    def is_there(self) -> bool:
        """Whether the scheduler is there, is the one we connected to, and still has what we sent.

        A scheduler restarted at the same address has not, nor has one whose workers have all been replaced.
        """
        try:
            _ask_for(self._address)  # at once, while Dask would retry for some time
            self._client.nthreads()  # raises if nobody answers, which `scheduler_info` does not
            known = self._client.scheduler_info()["id"] == self._scheduler
        except Exception:  # noqa: BLE001  # whatever a client raises that has lost its scheduler
            return False
        return known and self._client.status == "running" and self._sent.status in ("pending", "finished")

    def is_of_use(self) -> None:
        """Note that something was made: a scheduler that works is worth waiting for."""
        self._lost_since = None

    def restore(self, stop: Stop) -> None:
        """Wait for a scheduler with workers at the address, and connect to it; give up if `stop` returns true.

        Raises SeriesError if none comes in time.
        """
        self.close()
        if self._lost_since is None:
            self._lost_since = time.monotonic()
        self._tell(
            f"the scheduler at {self._address} was lost; waiting up to {_PATIENCE / 60:.0f} minutes for it and its "
            "workers to be started again"
        )
        while not stop():
            try:
                self._connect()
            except UsageError:
                if time.monotonic() - self._lost_since > _PATIENCE:
                    hint = "what was made is kept: start it again, and run the same command to continue"
                    raise SeriesError(f"the scheduler at {self._address} was lost", hint=hint) from None
                time.sleep(_BETWEEN_TRIES)
            else:
                return

    def close(self) -> None:
        """Close the client."""
        client, self._client = self._client, None
        with suppress(Exception):  # whatever it would still send to a lost scheduler
            if client is not None:
                client.close()


def _ask_for(address: str) -> None:
    """Make sure that somebody listens at an address, which takes no time, before Dask keeps trying."""
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


def _no_answer(address: str, fault: BaseException) -> UsageError:
    words = (getattr(fault, "strerror", None) or str(fault) or type(fault).__name__).splitlines()[0]
    return UsageError(f"no scheduler answers at {address}: {words}", hint="look at the address and whether it runs")
