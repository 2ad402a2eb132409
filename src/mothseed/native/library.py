"""Calling kernels from Python: found on disk, loaded by LLVM alone, called through ctypes.

An entry is handed one block of words of 8 bytes: for a number its value, for an array its address and then the length of each
dimension, for a named tuple its fields one after the other. What an entry takes is written in its part, and whoever calls it
is held to that, since code that was compiled looks at nothing.
"""

from __future__ import annotations

import ctypes
from collections.abc import Callable, Iterable, Sequence
from struct import Struct, pack_into
from threading import Lock
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from mothseed.native.part import Part

_CODES = {"int64": "q", "uint64": "Q", "float64": "d", "bool": "q"}
_Taken = tuple[str, np.dtype[Any], int]
"""The name, type and number of dimensions of what an entry takes; 0 dimensions for a number."""
_RESULTS: dict[str, Any] = {"int64": ctypes.c_int64, "float64": ctypes.c_double}


class Kernel:
    """An entry of a part, looked for when it is first called: `Kernel("noise.height")(key, x, y)`."""

    def __init__(self, name: str) -> None:
        self.name = name
        self._call: Callable[..., Any] | None = None

    def __call__(self, *arguments: Any) -> Any:
        """Call it without the GIL; returns its result, a number. Raises TypeError for other arguments."""
        call = self._call
        if call is None:
            call = self._call = self._bound()
        return call(*arguments)

    @property
    def address(self) -> int:
        """Its address, for another kernel to call."""
        return _of(self.name).address(self.name)

    def repeated(self, *arguments: Any) -> RepeatedCall:
        """A call that can be made again with other values for the first of its numbers, while all else is laid out once. Of
        many arrays, that takes longer than a short call itself.
        """
        function, takes, codes = self._opened()
        words = bytearray(Struct("".join(codes)).pack(*_words(self.name, takes, _parts(arguments))))
        return RepeatedCall(function, words, codes, arguments)

    def _bound(self) -> Callable[..., Any]:
        function, takes, codes = self._opened()
        pack = Struct("".join(codes)).pack
        if not any(count for _, _, count in takes):
            return lambda *numbers: function(pack(*numbers))
        if any("." in name for name, _, _ in takes):
            return lambda *arguments: function(pack(*_words(self.name, takes, _parts(arguments))))
        return lambda *arguments: function(pack(*_words(self.name, takes, arguments)))

    def _opened(self) -> tuple[Any, list[_Taken], list[str]]:
        """The function, what it takes, and the codes of that for `struct`."""
        loaded = _of(self.name)
        entry = loaded.part.entries[self.name]
        function = ctypes.CFUNCTYPE(_RESULTS[entry.gives], ctypes.c_char_p)(loaded.address(self.name))
        takes = [(each.name, np.dtype(each.dtype), each.dimensions) for each in entry.takes]
        codes = ["q" * (1 + count) if count else _CODES[dtype.name] for _, dtype, count in takes]
        return function, takes, codes


class RepeatedCall:
    """A call laid out once, for one thread at a time."""

    def __init__(self, function: Any, words: bytearray, codes: Sequence[str], arguments: tuple[Any, ...]) -> None:
        self._function, self._words, self._codes = function, words, codes
        self._block = (ctypes.c_char * len(words)).from_buffer(words)
        self._arguments = arguments  # their arrays have to stay where they are

    def __call__(self, *numbers: float) -> Any:
        """Call it with these as the first of its numbers; returns its result."""
        pack_into("".join(self._codes[: len(numbers)]), self._words, 0, *numbers)
        return self._function(self._block)


class _Loaded(NamedTuple):
    """A part whose code is in memory as long as its engine lives."""

    part: Part
    engine: Any
    """LLVM's own"""

    def address(self, name: str) -> int:
        address: int = self.engine.get_function_address(self.part.entries[name].symbol)
        return address


_loaded: dict[str, _Loaded] = {}
_loading = Lock()


def load(names: Iterable[str]) -> None:
    """Load parts; missing ones are compiled together. Raises CompilerError if that fails."""
    with _loading:
        missing = [name for name in names if name not in _loaded]
        if missing:
            # Imported on the first call: many commands need no kernel.
            import llvmlite.binding as llvm

            from mothseed.native.store import ready
            from mothseed.native.target import this_machine

            # Loaded parts stay: kernels that were called hold the address of their code.
            parts = {name: part for name, part in ready(missing).items() if name not in _loaded}
            engine = llvm.create_mcjit_compiler(llvm.parse_assembly(""), this_machine().machine())
            for part in parts.values():
                engine.add_object_file(llvm.ObjectFileRef.from_data(part.code))
            engine.finalize_object()
            _loaded.update((name, _Loaded(part, engine)) for name, part in parts.items())


def _of(name: str) -> _Loaded:
    """The part of an entry."""
    part = name.partition(".")[0]
    if part not in _loaded:
        load([part])
    return _loaded[part]


def _words(name: str, takes: list[_Taken], parts: Sequence[Any]) -> list[int | float]:
    if len(parts) != len(takes):
        raise TypeError(f"{name} takes {len(takes)} numbers and arrays (got {len(parts)})")
    words = []
    for part, (field, dtype, dimensions) in zip(parts, takes, strict=True):
        if not dimensions:
            words.append(part)
            continue
        if part.dtype != dtype or part.ndim != dimensions or not part.flags.c_contiguous:
            got = f"{part.dtype}, {part.ndim}, {'' if part.flags.c_contiguous else 'not '}contiguous"
            raise TypeError(f"{name} takes for {field} an array of {dtype} with {dimensions} dimensions (got {got})")
        words.append(_address(part))
        words += part.shape
    return words


def _address(array: npt.NDArray[Any]) -> int:
    """The address of the data of an array."""
    try:
        # A quarter of the time that the array's own attribute takes.
        return ctypes.addressof(ctypes.c_char.from_buffer(array))  # type: ignore[arg-type]
    except (TypeError, ValueError):  # it is read-only or empty
        return array.ctypes.data


def _parts(arguments: tuple[Any, ...]) -> list[Any]:
    """The arguments, with named tuples replaced by their fields."""
    parts = []
    for argument in arguments:
        if isinstance(argument, tuple):
            parts += _parts(argument)
        else:
            parts.append(argument)
    return parts
