"""The installed program as it watches, for all who look at what it says or shows."""

from __future__ import annotations

import os
import queue
import signal
import subprocess
import threading
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from tests.conftest import INSTALLED


class Watching:
    """The installed program, watching; what it says comes line by line."""

    def __init__(self, folder: Path, *arguments: str) -> None:
        command = [str(INSTALLED), "watch", *arguments]
        self.process = subprocess.Popen(
            command, cwd=folder, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, start_new_session=True
        )
        self.lines: queue.Queue[str] = queue.Queue()
        self.reader = threading.Thread(target=self._read)
        self.reader.start()

    def _read(self) -> None:
        assert self.process.stdout is not None
        with self.process.stdout as said:
            for line in said:
                self.lines.put(line)

    def until(self, words: str) -> str:
        """The next line that has these words in it."""
        while True:
            line = self.lines.get(timeout=60)
            if words in line:
                return line

    def end(self) -> int:
        """Press Ctrl-C."""
        os.killpg(self.process.pid, signal.SIGINT)
        return self.process.wait(timeout=20)


@pytest.fixture
def watching(tmp_path: Path) -> Iterator[Callable[..., Watching]]:
    begun: list[Watching] = []

    def begin(*arguments: str) -> Watching:
        begun.append(Watching(tmp_path, *arguments))
        return begun[-1]

    yield begin
    for each in begun:
        if each.process.poll() is None:
            os.killpg(each.process.pid, signal.SIGKILL)
            each.process.wait()
        each.reader.join()
