"""Noticing when a file of a sketch is saved."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Iterable
from pathlib import Path

from watchfiles import Change, awatch

_TOGETHER = 20
"""Milliseconds of quiet before a change is reported, as programs touch a file several times when saving."""
_AT_MOST = 300
"""Milliseconds after which files are checked in any case, as some file systems send no events, and folders come and go."""

Stamps = dict[Path, tuple[int, int] | None]


class Files:
    """The files that matter, which change as the sketch does.

    Events of the system are only a prompt to look; what counts is whether the time or size of a file has changed. So nothing
    is missed while the watched folders change.
    """

    def __init__(self, files: Iterable[Path]) -> None:
        self._stamps = _stamps(files)
        self._lacking = False
        self._moved = asyncio.Event()

    def become(self, files: Iterable[Path], *, lacking: bool) -> None:
        """Watch these files from now on; if something is `lacking`, new pictures and modules count as well."""
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
        """Whether any has changed since they were last checked."""
        now = _stamps(self._stamps)
        before, self._stamps = self._stamps, now
        return now != before


def _folders(files: Iterable[Path]) -> set[Path]:
    return {folder for folder in {file.parent for file in files} if folder.is_dir()}


def _stamps(files: Iterable[Path]) -> Stamps:
    return {file: _stamp(file) for file in files}


def _stamp(file: Path) -> tuple[int, int] | None:
    """Modification time and size of a file; None if there is none."""
    try:
        state = file.stat()
    except OSError:
        return None
    return state.st_mtime_ns, state.st_size


def _may_help(change: Change, file: Path) -> bool:
    """Whether a file may be what a sketch lacked: code, or a new file, but not a growing log or a file of an editor."""
    return (file.suffix == ".py" or change is Change.added) and not file.name.startswith(".") and not file.name.endswith("~")
