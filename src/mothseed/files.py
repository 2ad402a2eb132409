"""Files that are whole or absent, and hashes of what is in them."""

from __future__ import annotations

import errno
import secrets
from collections.abc import Iterator
from contextlib import contextmanager
from hashlib import blake2b
from pathlib import Path

from mothseed.faults import FileError, FullDiskError

_FULL = {errno.ENOSPC, errno.EDQUOT, errno.EFBIG}

PART_SUFFIX = ".part"
"""Ends the name under which a file is written, before it is renamed into its place."""


@contextmanager
def written_whole(path: Path) -> Iterator[Path]:
    """Gives a path beside `path` to write to, and renames it into place once the block has ended without a fault.

    Raises FileError where the folder cannot be written to or the disk is full; `path` is then as it was.
    """
    part = path.with_name(f".{path.name}.{secrets.token_hex(4)}{PART_SUFFIX}")
    try:
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            yield part
            part.replace(path)
        finally:
            part.unlink(missing_ok=True)
    except OSError as fault:
        kind = FullDiskError if fault.errno in _FULL else FileError
        raise kind(f"{path} could not be written: {fault.strerror or fault}") from fault


def write_bytes(path: Path, content: bytes) -> None:
    """Write a whole file at once, as `written_whole` does."""
    with written_whole(path) as part:
        part.write_bytes(content)


def content_hash(content: bytes) -> str:
    """BLAKE2b of some bytes, 16 bytes as hexadecimal digits."""
    return blake2b(content, digest_size=16).hexdigest()


def file_hash(path: Path) -> str | None:
    """The content hash of a file, or None where it cannot be read."""
    try:
        return content_hash(path.read_bytes())
    except OSError:
        return None
