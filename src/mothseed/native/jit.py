"""How kernels are marked in their source, which only the compiler imports.

No fast mathematics: each operation is what IEEE 754 says it is, so that all processors give the same pixels. A division by 0
gives infinity as in NumPy, which lets loops run without a branch for it. A kernel neither allocates nor raises: it is handed
all the room that it needs.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

import numba
from llvmlite import ir
from numba import types
from numba.extending import intrinsic

from mothseed.native.lowering import Passes

Function = TypeVar("Function", bound=Callable[..., object])

step: Callable[[Callable[..., Any]], Any] = intrinsic
"""Numba's decorator for code written in instructions. Inside a kernel a step is called without its first argument."""


class Handed:
    """The block passed to an entry: all its arguments in sequence, 8 bytes each. An entry may also take the block itself."""


WORDS = types.CPointer(types.int64)  # type: ignore[no-untyped-call]
"""The compiler's type of words."""

ENTRIES: dict[str, tuple[Any, bool]] = {}
"""Entry points of the imported modules, by module and name: the compiled function, and whether it is a technique."""


def kernel(function: Function) -> Function:
    """A function that other kernels call."""
    return _compiled(function, inlined=False)


def inlined(function: Function) -> Function:
    """A kernel for innermost loops, inlined into its callers: passing three arrays costs more than a row."""
    return _compiled(function, inlined=True)


def entry(function: Function) -> Function:
    """A kernel that Python calls, through `library.Kernel`; the types of its parameters are those of its annotations."""
    return _named(function, technique=False)


def technique(function: Function) -> Function:
    """A kernel that another one calls through `call_technique`, so that it is compiled and loaded only where it is needed.

    Its parameters are the one that the calling entry has, a window of six whole numbers, and three more of them.
    """
    return _named(function, technique=True)


def _named(function: Function, *, technique: bool) -> Function:
    result = _compiled(function, inlined=False)
    ENTRIES[f"{function.__module__.rpartition('.')[2]}.{function.__name__}"] = (result, technique)
    return result


def _compiled(function: Function, *, inlined: bool) -> Function:
    # Only other kernels call it, and none of them counts references to arrays.
    options: Any = {"no_cpython_wrapper": True, "no_cfunc_wrapper": True, "_nrt": False, "pipeline_class": Passes}
    return cast("Function", numba.njit(error_model="numpy", forceinline=inlined, **options)(function))


TECHNIQUE_NUMBERS = 9
"""How many whole numbers are passed to a technique."""


@step
def call_technique(typing_context: Any, address: Any, words: Any, numbers: Any) -> Any:
    """Call the technique at an address with the words that this entry was handed, and with nine whole numbers."""

    def codegen(context: Any, builder: ir.IRBuilder, signature: Any, arguments: Any) -> Any:
        place, handed, packed = arguments
        word = ir.IntType(64)
        pointer = word.as_pointer()
        function = ir.FunctionType(word, [pointer] + [word] * TECHNIQUE_NUMBERS).as_pointer()
        parts = [builder.extract_value(packed, part) for part in range(TECHNIQUE_NUMBERS)]
        builder.call(builder.inttoptr(place, function), [handed, *parts])
        return context.get_dummy_value()

    handed = types.UniTuple(types.int64, TECHNIQUE_NUMBERS)  # type: ignore[no-untyped-call]
    return types.void(types.int64, words, handed), codegen
