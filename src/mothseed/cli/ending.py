"""Ending a command that is told to from outside."""

from __future__ import annotations

import signal
import threading
from collections.abc import Coroutine, Iterator
from contextlib import contextmanager, suppress
from types import FrameType
from typing import Any

from mothseed.faults import Ended

_ORDERS = ("SIGTERM", "SIGHUP")


class Terminated(Ended):
    """The system, or the end of a session, asks this process to end."""

    def __init__(self, number: int) -> None:
        super().__init__()
        self.status = 128 + number
        """the exit status that shells give to the end by a signal"""


@contextmanager
def ending_in_order() -> Iterator[None]:
    """In this block SIGTERM and SIGHUP raise an exception, so that temporary things such as half-written files are cleaned
    up; by default Python would end at once. Works in the main thread only.
    """
    if threading.current_thread() is not threading.main_thread():
        yield
        return

    def end(number: int, _frame: FrameType | None) -> None:
        raise Terminated(number)

    before = {number: signal.signal(number, end) for number in _orders() if signal.getsignal(number) == signal.SIG_DFL}
    try:
        yield
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)


@contextmanager
def ending_task_in_order() -> Iterator[None]:
    """The same for the running asyncio task: a signal cancels it and ends the block with an exception. An exception from a
    signal handler between two tasks would be reported by asyncio and otherwise ignored.
    """
    import asyncio

    loop, task = asyncio.get_running_loop(), asyncio.current_task()
    assert task is not None
    before = {number: signal.getsignal(number) for number in _orders()}
    ordered: list[int] = []

    def end(number: int) -> None:
        ordered.append(number)
        task.cancel()

    try:
        for number in before:
            loop.add_signal_handler(number, end, number)
    except (NotImplementedError, ValueError, RuntimeError):  # a system without signals, or a thread that gets none
        before.clear()
    try:
        yield
    except asyncio.CancelledError:
        if ordered:
            raise Terminated(ordered[0]) from None
        raise
    finally:
        for number, handler in before.items():
            loop.remove_signal_handler(number)
            signal.signal(number, handler)


def until_interrupted(work: Coroutine[Any, Any, None]) -> None:
    """Run a task until it is done or Ctrl-C is pressed; signals to end raise an exception in it."""
    import asyncio

    async def ending() -> None:
        with ending_task_in_order():
            await work

    with suppress(KeyboardInterrupt):
        asyncio.run(ending())


def _orders() -> list[int]:
    return [getattr(signal, name) for name in _ORDERS if hasattr(signal, name)]
