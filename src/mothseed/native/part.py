"""A part of the kernels on disk: machine code, its entry points, and a checksum.

The file is a line that says what it is, a line with the BLAKE2b hash of all that follows, a line of JSON, and an object file
as the linkers of the platform read it.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from hashlib import blake2b
from typing import NamedTuple, Self

_BEGINS = b"mothseed kernels 1\n"


class Taken(NamedTuple):
    """An argument that an entry takes."""

    name: str
    dtype: str
    dimensions: int
    """of an array; 0 for a number"""


class EntryPoint(NamedTuple):
    """An entry point of a part."""

    symbol: str
    """its name in the object file"""
    takes: tuple[Taken, ...]
    gives: str
    """int64 or float64"""


@dataclass(frozen=True, slots=True)
class Part:
    """A compiled part."""

    entries: Mapping[str, EntryPoint]
    code: bytes
    """an object file"""

    def as_bytes(self) -> bytes:
        """The content of its file."""
        content = json.dumps(self.entries).encode() + b"\n" + self.code
        return _BEGINS + _hash(content) + b"\n" + content

    @classmethod
    def from_bytes(cls, content: bytes) -> Self:
        """Read a file; raises ValueError if it is not whole."""
        begins, rest = content[: len(_BEGINS)], content[len(_BEGINS) :]
        digest, _, rest = rest.partition(b"\n")
        if begins != _BEGINS or digest != _hash(rest):
            raise ValueError("this is no compiled part of the kernels, or it is damaged")
        about, _, code = rest.partition(b"\n")
        entries = {
            name: EntryPoint(symbol, tuple(Taken(*each) for each in takes), gives)
            for name, (symbol, takes, gives) in json.loads(about).items()
        }
        return cls(entries, code)


def _hash(content: bytes) -> bytes:
    return blake2b(content, digest_size=16).hexdigest().encode()
