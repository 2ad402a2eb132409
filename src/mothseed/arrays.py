"""Names for the kinds of array that pass between the parts."""

from __future__ import annotations

from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt

FloatArray = npt.NDArray[np.float64]
"""float64 of any shape."""

PointArray = npt.NDArray[np.float64]
"""float64 (n, 2): x and y of each point."""

WholeArray = npt.NDArray[np.int64]
"""int64 of any shape."""

WordArray = npt.NDArray[np.uint64]
"""uint64 of any shape: random words."""

ByteArray = npt.NDArray[np.uint8]
"""uint8 of any shape; pixels are (height, width, channels)."""

BoolArray = npt.NDArray[np.bool]
"""bool of any shape."""

RecordArray = npt.NDArray[Any]
"""A structured array; its dtype is stated where it is made."""

Number = TypeVar("Number", bound=np.generic)

Array1 = np.ndarray[tuple[int], np.dtype[Number]]
"""An array of one dimension, and below of two, three and four: what a compiled kernel is handed, C-contiguous."""
Array2 = np.ndarray[tuple[int, int], np.dtype[Number]]
Array3 = np.ndarray[tuple[int, int, int], np.dtype[Number]]
Array4 = np.ndarray[tuple[int, int, int, int], np.dtype[Number]]
