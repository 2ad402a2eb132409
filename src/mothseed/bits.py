"""Random bits by position: any number of a stream can be computed without those before it.

The generator is SplitMix64 with a gamma of its own for each stream: Steele, Lea and Flood, "Fast splittable pseudorandom
number generators", OOPSLA 2014, figures 16 and 17. Word `i` of a stream is `mix(start + (i + 1) * gamma)` modulo 2**64.
A stream's start and gamma are the BLAKE2b hash (RFC 7693, 16 bytes) of its path, so that streams share nothing.
"""

from __future__ import annotations

from hashlib import blake2b
from struct import Struct

import numpy as np

from mothseed.arrays import FloatArray, WordArray

GOLDEN_GAMMA = 0x9E3779B97F4A7C15
UNIT_STEP = 2.0**-53
"""Distance of neighbouring unit numbers: they are the multiples of this in [0, 1)."""

_MASK = 0xFFFFFFFFFFFFFFFF
FIRST_FACTOR = 0xBF58476D1CE4E5B9
SECOND_FACTOR = 0x94D049BB133111EB
_FEWEST_TRANSITIONS = 24


Stream = tuple[int, int]
"""The two 64-bit words that fix a sequence: its start and its gamma."""

_two_words = Struct("<QQ").unpack


def stream_of(path: str) -> Stream:
    """The stream that belongs to a path, which is any text."""
    start, gamma = _two_words(blake2b(path.encode("utf-8", "surrogatepass"), digest_size=16).digest())
    gamma |= 1
    # A gamma with few bit transitions makes a poorer sequence; this is the paper's remedy.
    if (gamma ^ (gamma >> 1)).bit_count() < _FEWEST_TRANSITIONS:
        gamma ^= 0xAAAAAAAAAAAAAAAA
    return start, gamma


def word(stream: Stream, index: int) -> int:
    """The 64-bit word at a position.

    >>> hex(word((0, GOLDEN_GAMMA), 0))
    '0xe220a8397b1dcdaf'
    """
    start, gamma = stream
    z = (start + (index + 1) * gamma) & _MASK
    z = ((z ^ (z >> 30)) * FIRST_FACTOR) & _MASK
    z = ((z ^ (z >> 27)) * SECOND_FACTOR) & _MASK
    return z ^ (z >> 31)


def words(stream: Stream, first: int, count: int) -> WordArray:
    """`count` words from position `first` on: uint64 (count,)."""
    start, gamma = stream
    positions = np.arange(first + 1, first + 1 + count, dtype=np.uint64)
    return finished(positions * np.uint64(gamma) + np.uint64(start))


def finished(words: WordArray) -> WordArray:
    """The generator's last steps on words of any shape: each bit of the result depends on all of a word."""
    words = (words ^ (words >> np.uint64(30))) * np.uint64(FIRST_FACTOR)
    words = (words ^ (words >> np.uint64(27))) * np.uint64(SECOND_FACTOR)
    return words ^ (words >> np.uint64(31))


def unit(stream: Stream, index: int) -> float:
    """A number from 0 up to but not including 1: the upper 53 bits of a word."""
    # `word` inlined: another call would take a tenth of the time of drawing a number.
    start, gamma = stream
    z = (start + (index + 1) * gamma) & _MASK
    z = ((z ^ (z >> 30)) * FIRST_FACTOR) & _MASK
    z = ((z ^ (z >> 27)) * SECOND_FACTOR) & _MASK
    return ((z ^ (z >> 31)) >> 11) * UNIT_STEP


def units(stream: Stream, first: int, count: int) -> FloatArray:
    """The same for `count` positions from `first` on: float64 (count,)."""
    upper = words(stream, first, count) >> np.uint64(11)
    result: FloatArray = upper.astype(np.float64) * UNIT_STEP
    return result
