"""Limits on the time and memory of one edition, so that a sketch that never ends or eats all memory fails on its own."""

from __future__ import annotations

import contextlib
import ctypes
import faulthandler
import os
import signal
import threading
from collections.abc import Iterator
from dataclasses import dataclass
from types import FrameType

from mothseed.faults import Ended

try:
    import resource
except ImportError:  # only Unix has it
    resource = None  # type: ignore[assignment]

_GRACE = 10.0
"""Seconds of grace: how long after its time is up an edition may still end by itself before its process is killed."""
_AGAIN = 1.0
"""Seconds from one alarm to the next."""
_SHARE_OF_MEMORY = 0.8


@dataclass(frozen=True, slots=True)
class Limits:
    """What one edition may use."""

    seconds: float | None = None
    memory: int | None = None
    """bytes"""


NO_LIMITS = Limits()


class OutOfTime(Ended):
    """The time of an edition is over."""


@contextlib.contextmanager
def time_limit(seconds: float | None) -> Iterator[None]:
    """Raise OutOfTime inside the block once that many seconds have passed: by an alarm signal in the main thread, where the
    system has those, otherwise between two steps of Python.
    """
    if seconds is None:
        yield
        return
    if threading.current_thread() is not threading.main_thread() or not hasattr(signal, "setitimer"):
        with _ringing_in_this_thread(seconds):
            yield
        return

    def ring(_number: int, _frame: FrameType | None) -> None:
        raise OutOfTime

    before = signal.signal(signal.SIGALRM, ring)
    # Again and again: the sketch may catch every exception and go on.
    signal.setitimer(signal.ITIMER_REAL, seconds, _AGAIN)
    try:
        yield
    finally:
        signal.setitimer(signal.ITIMER_REAL, 0)
        signal.signal(signal.SIGALRM, before)


@contextlib.contextmanager
def _ringing_in_this_thread(seconds: float) -> Iterator[None]:
    """The same without alarm signals: another thread raises the exception in this one."""
    own, over = ctypes.c_ulong(threading.get_ident()), threading.Event()

    def ring() -> None:
        wait = seconds
        while not over.wait(wait):
            ctypes.pythonapi.PyThreadState_SetAsyncExc(own, ctypes.py_object(OutOfTime))
            wait = _AGAIN

    bell = threading.Thread(target=ring, daemon=True)
    bell.start()
    try:
        yield
    finally:
        over.set()
        bell.join()
        ctypes.pythonapi.PyThreadState_SetAsyncExc(own, None)  # an alarm that has not been delivered yet


@contextlib.contextmanager
def ending_the_process_after(seconds: float | None) -> Iterator[None]:
    """Kill this process if an edition ignores even its alarm, as a calculation outside Python may."""
    if seconds is None:
        yield
        return
    with open(os.devnull, "w", encoding="utf-8") as nowhere:  # noqa: PTH123  # a traceback of Python's would help nobody
        faulthandler.dump_traceback_later(seconds + _GRACE, exit=True, file=nowhere)
        try:
            yield
        finally:
            faulthandler.cancel_dump_traceback_later()


def limit_memory(memory: int | None) -> None:
    """Allow this process that many bytes more than it has now; beyond that, Python raises MemoryError."""
    if memory is None or resource is None:
        return
    _, hard = resource.getrlimit(resource.RLIMIT_DATA)
    wanted = _data_in_use() + memory
    resource.setrlimit(resource.RLIMIT_DATA, (wanted if hard == resource.RLIM_INFINITY else min(wanted, hard), hard))


def fair_share_of_memory(workers: int) -> int | None:
    """Most of the machine's memory, divided among workers; None if the system does not say how much there is."""
    try:
        total = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
    except (AttributeError, ValueError, OSError):
        return None
    return int(total * _SHARE_OF_MEMORY / max(workers, 1))


def _data_in_use() -> int:
    try:
        with open("/proc/self/statm", encoding="ascii") as statm:  # noqa: PTH123  # no file of anybody's
            return int(statm.read().split()[5]) * os.sysconf("SC_PAGE_SIZE")
    except (OSError, ValueError, IndexError):
        return 0
