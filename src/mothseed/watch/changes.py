"""When a file of a sketch is saved."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Iterable
from pathlib import Path

from watchfiles import Change, awatch

_TOGETHER = 20
"""Milliseconds without another change after which one is told: a program that saves touches a file several times."""
_AT_MOST = 300
"""Milliseconds after which files are looked at in any case: some file systems tell nothing, and folders come and go."""

Stamps = dict[Path, tuple[int, int] | None]


class Files:
    """The files that count, which become others as a sketch is changed.

    What the system tells is only the sign to look: what counts is whether a file's time or size is another than before. So
    nothing is missed while the folders that are listened to change.
    """

    def __init__(self, files: Iterable[Path]) -> None:
        self._stamps = _stamps(files)
        self._lacking = False
        self._moved = asyncio.Event()

    def become(self, files: Iterable[Path], *, lacking: bool) -> None:
        """These are the files from now on; where something is `lacking`, a picture or a module that comes counts too."""
        before = _folders(self._stamps)
        self._stamps = {file: self._stamps.get(file, stamp) for file, stamp in _stamps(files).items()}
        self._lacking = lacking
        if _folders(self._stamps) != before:
            self._moved.set()

    async def changes(self) -> AsyncIterator[None]:
        """Comes back whenever files were changed, came or went."""
        while True:
            self._moved.clear()
            folders = _folders(self._stamps)
            if not folders:
                await asyncio.sleep(_AT_MOST / 1000)
            else:
                async for changes in awatch(
                    *folders,
                    recursive=False,
                    watch_filter=None,
                    step=_TOGETHER,
                    debounce=_AT_MOST,
                    rust_timeout=_AT_MOST,
                    yield_on_timeout=True,
                    stop_event=self._moved,
                ):
                    others = self._lacking and any(_may_help(change, Path(name)) for change, name in changes)
                    if self._are_others() or others:
                        yield
            if self._are_others():
                yield

    def _are_others(self) -> bool:
        """Whether some are not as they were when they were last looked at."""
        now = _stamps(self._stamps)
        before, self._stamps = self._stamps, now
        return now != before


def _folders(files: Iterable[Path]) -> set[Path]:
    return {folder for folder in {file.parent for file in files} if folder.is_dir()}


def _stamps(files: Iterable[Path]) -> Stamps:
    return {file: _stamp(file) for file in files}


def _stamp(file: Path) -> tuple[int, int] | None:
    """When a file was changed, and its size; None where there is none."""
    try:
        state = file.stat()
    except OSError:
        return None
    return state.st_mtime_ns, state.st_size


def _may_help(change: Change, file: Path) -> bool:
    """Whether a file may be what a sketch lacked: code, or what was not there; but no log that grows, nor an editor's own."""
    return (file.suffix == ".py" or change is Change.added) and not file.name.startswith(".") and not file.name.endswith("~")
