"""Files that are written whole or not at all, flushing them to disk, and hashes of their contents."""

from __future__ import annotations

import errno
import os
import shutil
import stat
import tempfile
from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from hashlib import blake2b
from pathlib import Path
from time import monotonic, sleep

from mothseed.faults import FileError, FullDiskError

try:
    import fcntl
except ImportError:  # only Unix has it
    fcntl = None  # type: ignore[assignment]

_FULL = {errno.ENOSPC, errno.EDQUOT, errno.EFBIG}

PART_SUFFIX = ".part"
"""Suffix of a file while it is being written, before it is renamed into place."""
_LONGEST_STEM = 160
"""Bytes of a file's name that are repeated in the name of its part, as names are limited."""
_LARGEST_READ = 1 << 30
"""Largest file that is read whole, in bytes."""


@contextmanager
def written_whole(path: Path, *, through_links: bool = True) -> Iterator[Path]:
    """A block with a path beside `path` to write to, which is renamed into place if the block ends without an error.

    What a process that was killed left half written is taken over by the next one that writes the same file. A link keeps
    being one, and what it leads to is written; not so in a folder that somebody else may have filled, where a link could
    lead anywhere, and where `through_links` is off the file takes its place. Raises FileError where the folder cannot be
    written to or the disk is full; `path` is then as it was.
    """
    shown, path = path, _target(path) if through_links else path
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        part, lock = _claimed(path)
        try:
            yield part
            part.replace(path)
        except BaseException:
            part.unlink(missing_ok=True)
            raise
        finally:
            os.close(lock)
    except OSError as fault:
        raise _not_written(shown, fault) from fault


def _not_written(path: Path, fault: OSError) -> FileError:
    kind = FullDiskError if fault.errno in _FULL else FileError
    return kind(f"{path} could not be written: {fault.strerror or fault}")


def _target(path: Path) -> Path:
    """The final target of a link."""
    try:
        return path.resolve() if path.is_symlink() else path
    except (OSError, RuntimeError) as fault:
        raise FileError(f"{path} could not be written: it is a link that leads nowhere") from fault


def _claimed(path: Path) -> tuple[Path, int]:
    """An empty file in which to write `path`, and the lock on it, which is held until it is closed."""
    name = path.name if len(os.fsencode(path.name)) <= _LONGEST_STEM else content_hash(os.fsencode(path.name))
    flags = os.O_RDWR | os.O_CREAT | getattr(os, "O_NOFOLLOW", 0) | getattr(os, "O_NONBLOCK", 0)
    if fcntl is not None:
        part = path.with_name(f".{name}{PART_SUFFIX}")
        with suppress(OSError):  # a link, a folder, or anything else that is not our file
            lock = os.open(part, flags, 0o666)
            if _is_free(lock) and _is_ours(lock, part):
                return part, lock
            os.close(lock)
    part = path.with_name(f".{name}.{os.urandom(4).hex()}{PART_SUFFIX}")
    return part, os.open(part, flags | os.O_EXCL, 0o666)


def _is_free(lock: int) -> bool:
    """Lock a file until it is closed; false if somebody else has locked it."""
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    return True


def _is_ours(lock: int, part: Path) -> bool:
    """Whether an open file is an ordinary one that still has its name, and was not renamed meanwhile."""
    own = os.fstat(lock)
    try:
        named = part.lstat()
    except OSError:
        return False
    return stat.S_ISREG(own.st_mode) and own.st_nlink == 1 and os.path.samestat(own, named)


@contextmanager
def locked(path: Path, patience: float) -> Iterator[None]:
    """A block during which other processes are kept out of a folder, by a lock on the file `path` in it.

    Raises FileError if the file cannot be made, or others hold it for longer than so many seconds.
    """
    flags = os.O_RDWR | os.O_CREAT | getattr(os, "O_NOFOLLOW", 0) | getattr(os, "O_NONBLOCK", 0)
    try:
        lock = os.open(path, flags, 0o666)
    except OSError as fault:
        raise _not_written(path, fault) from fault
    try:
        until = monotonic() + patience
        while fcntl is not None and not _is_free(lock):
            if monotonic() > until:
                raise FileError(f"{path.parent} is being written to by another program", hint="try again when that is done")
            sleep(_A_WHILE)
        yield
    finally:
        os.close(lock)


_A_WHILE = 0.01
"""Seconds between attempts at a lock."""


def write_bytes(path: Path, content: bytes, *, through_links: bool = True) -> None:
    """Write a whole file, as `written_whole` does."""
    with written_whole(path, through_links=through_links) as part:
        part.write_bytes(content)


def flush(files: Iterable[Path]) -> None:
    """Flush files, and their names in their folders, to disk, where they survive a loss of power. Raises FileError if that
    fails.
    """
    folders = set()
    for file in files:
        folders.add(file.parent)
        _flush(file)
    for folder in folders:
        flush_folder(folder)


def flush_folder(folder: Path) -> None:
    """Flush the names in a folder to disk."""
    with suppress(FileError):  # some systems cannot open folders, and write their entries at once
        _flush(folder)


def _flush(path: Path) -> None:
    try:
        handle = os.open(path, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)
    except OSError as fault:
        raise _not_written(path, fault) from fault


def read_ordinary(path: Path) -> bytes:
    """The content of a file; raises OSError if it cannot be read, is not an ordinary file, or is far too large. Reading a
    pipe could block, and a device may never end.
    """
    handle = os.open(path, os.O_RDONLY | getattr(os, "O_NONBLOCK", 0) | getattr(os, "O_BINARY", 0))
    with os.fdopen(handle, "rb") as file:
        status = os.fstat(handle)
        if stat.S_ISDIR(status.st_mode):
            raise IsADirectoryError(errno.EISDIR, os.strerror(errno.EISDIR), str(path))
        if not stat.S_ISREG(status.st_mode):
            raise OSError(errno.EINVAL, "it is a pipe or a device, not a file", str(path))
        if status.st_size > _LARGEST_READ:
            raise OSError(errno.EFBIG, f"it has {status.st_size / 1e9:.1f} GB, more than is read", str(path))
        return file.read()


def begin_folder(prefix: str) -> Path:
    """A new private temporary folder, until `end_folder`. Those left by killed processes are removed."""
    for folder in Path(tempfile.gettempdir()).glob(f"{prefix}*"):
        with suppress(OSError):
            if _is_abandoned(folder):
                shutil.rmtree(folder, ignore_errors=True)
    folder = Path(tempfile.mkdtemp(prefix=prefix))
    _folders[folder] = os.open(folder / _IN_USE, os.O_RDWR | os.O_CREAT, 0o600)
    if fcntl is not None:
        fcntl.flock(_folders[folder], fcntl.LOCK_EX)
    return folder


def end_folder(folder: Path) -> None:
    """Remove such a folder with everything in it."""
    os.close(_folders.pop(folder))
    shutil.rmtree(folder, ignore_errors=True)


_IN_USE = ".in-use"
"""A file that is locked while its folder is in use."""
_folders: dict[Path, int] = {}


def _is_abandoned(folder: Path) -> bool:
    """Whether a folder is one of ours whose process no longer exists."""
    status = folder.lstat()
    if fcntl is None or not stat.S_ISDIR(status.st_mode) or status.st_uid != os.getuid():
        return False
    lock = os.open(folder / _IN_USE, os.O_RDWR | os.O_NOFOLLOW)
    try:
        return _is_free(lock)
    finally:
        os.close(lock)


def renamed(path: Path, ending: str) -> Path:
    """A path with another suffix, as a suggestion, even for paths without a name."""
    return path.with_suffix(ending) if path.name else path / f"picture{ending}"


def content_hash(content: bytes) -> str:
    """BLAKE2b of some bytes, 16 bytes as hexadecimal digits."""
    return blake2b(content, digest_size=16).hexdigest()


def file_hash(path: Path) -> str | None:
    """The content hash of a file, or None if it cannot be read."""
    try:
        return content_hash(read_ordinary(path))
    except (OSError, ValueError):  # a name may contain NUL
        return None
