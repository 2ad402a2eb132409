"""How a command ends that is told to from outside."""

from __future__ import annotations

import signal
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from types import FrameType

from mothseed.faults import Ended

_ORDERS = ("SIGTERM", "SIGHUP")


class Terminated(Ended):
    """The system, or the end of a session, wants this process to end."""

    def __init__(self, number: int) -> None:
        super().__init__()
        self.status = 128 + number
        """what shells call the end by a signal"""


@contextmanager
def ending_in_order() -> Iterator[None]:
    """Within, the orders to end are an exception, so that what is there for a while is taken away, such as files half written.

    Python has them end the process at once. Only the main thread can do so.
    """
    if threading.current_thread() is not threading.main_thread():
        yield
        return

    def end(number: int, _frame: FrameType | None) -> None:
        raise Terminated(number)

    numbers = [getattr(signal, name) for name in _ORDERS if hasattr(signal, name)]
    before = {number: signal.signal(number, end) for number in numbers if signal.getsignal(number) == signal.SIG_DFL}
    try:
        yield
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)
