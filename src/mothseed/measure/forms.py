"""Which forms two drawings share, from a short signature of each."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from mothseed.sheet import Drawing
from mothseed.sheet.form_hash import form_words

_BINS_BITS = 7
_BINS = 1 << _BINS_BITS
"""Parts of a signature; 128 give the shared portion within 0.04, mostly."""
FORMS_BYTES = 2 * _BINS
_PLACE_BITS = 12
"""Rounding of forms, in sheets: a four-thousandth, which nobody sees."""


def forms_of(drawing: Drawing) -> bytes:
    """A signature of the forms of a drawing, by kind, shape and place but not paint: 128 numbers of 16 bits.

    One-permutation min-wise hashing: Li, Owen and Zhang, "One permutation hashing", 2012.
    """
    smallest = np.zeros(_BINS, "<u2")
    if not len(drawing):
        return smallest.tobytes()
    hashes = np.sort(form_words(drawing, _PLACE_BITS))
    bins = (hashes >> np.uint64(64 - _BINS_BITS)).astype(np.int64)
    first = np.flatnonzero(np.diff(bins, prepend=-1))
    # 0 says that a part is empty.
    smallest[bins[first]] = (hashes[first] & np.uint64(0xFFFF)) % np.uint64(0xFFFF) + np.uint64(1)
    return smallest.tobytes()


def signatures(kept: list[bytes]) -> npt.NDArray[np.uint16]:
    """Stored signatures as uint16 (n, 128)."""
    return np.frombuffer(b"".join(kept), "<u2").reshape(len(kept), _BINS)


def shared_forms(some: npt.NDArray[np.uint16], others: npt.NDArray[np.uint16]) -> npt.NDArray[np.float32]:
    """Estimated Jaccard index of the forms of drawings: float32 (n, m) from signatures (n, 128) and (m, 128); 0 if both are
    empty.
    """
    same = np.zeros((len(some), len(others)), np.uint8)
    either = np.zeros_like(same)
    for left, right in zip(some.T, np.ascontiguousarray(others.T), strict=True):
        has_left, has_right = left[:, None] > 0, right[None, :] > 0
        same += (left[:, None] == right[None, :]) & has_left
        either += has_left | has_right
    result: npt.NDArray[np.float32] = np.divide(same, np.maximum(either, 1), dtype=np.float32)
    return result


def shared_by_each(some: npt.NDArray[np.uint16], others: npt.NDArray[np.uint16]) -> npt.NDArray[np.float64]:
    """The same for pairs of drawings: float64 (n,) from the signatures of the first and of the second of each, (n, 128)."""
    has_some, has_others = some > 0, others > 0
    same = ((some == others) & has_some).sum(axis=1)
    result: npt.NDArray[np.float64] = same / np.maximum((has_some | has_others).sum(axis=1), 1)
    return result
