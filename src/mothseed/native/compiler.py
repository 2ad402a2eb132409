"""The compiler: each part of the kernels becomes an object file. It runs as a separate program.

A part is a module of `mothseed.kernels`. Each of its entries gets a function of one C signature, int64 (const int64 *words),
that takes its arguments out of the words and calls it; a technique is handed nine whole numbers besides.
"""

from __future__ import annotations

import gc
import os
import shutil
import sys
import typing
from collections.abc import Callable, Iterable, Iterator
from importlib import import_module
from pathlib import Path
from typing import Any

import llvmlite.binding as llvm
import numba
import numpy as np
from filelock import FileLock, Timeout
from llvmlite import ir
from numba import types
from numba.extending import intrinsic
from numba.np.arrayobj import make_array, populate_array

from mothseed.files import write_bytes
from mothseed.native.jit import ENTRIES, TECHNIQUE_NUMBERS, WORDS, Handed
from mothseed.native.lowering import Lowered, only_lower
from mothseed.native.part import EntryPoint, Part, Taken
from mothseed.native.store import file_of, read
from mothseed.native.target import Target

_PLAIN = {int: types.int64, float: types.float64, bool: types.boolean}
_WORD = ir.IntType(64)
_LOW_PRIORITY = 10


def compiled(part: str, target: Target) -> Part:
    """Compile a module of the kernels for a processor, after `only_lower`."""
    module = import_module(f"mothseed.kernels.{part}")
    functions = {
        name: (function, is_technique) for name, (function, is_technique) in ENTRIES.items() if name.startswith(f"{part}.")
    }
    machine = target.machine()
    whole = llvm.parse_assembly("")
    linked: set[Lowered] = set()
    entries: dict[str, EntryPoint] = {}
    for name, (function, is_technique) in functions.items():
        hints = typing.get_type_hints(function.py_func, vars(module))
        returned = hints.pop("return")
        callback = _callback(function, hints, returned, is_technique=is_technique)
        callback.library.link_into(whole, linked)
        # Numba's names are the same in every process that compiles, and parts are loaded together.
        whole.get_function(callback.fndesc.llvm_cfunc_wrapper_name).name = f"mothseed.{name}"
        takes = [] if is_technique else [word for each, hint in hints.items() for word in _described(each, hint)]
        entries[name] = EntryPoint(f"mothseed.{name}", tuple(takes), "float64" if returned is float else "int64")
    _optimise(whole, machine, {each.symbol for each in entries.values()})
    unknown = {f.name for f in whole.functions if f.is_declaration and not f.name.startswith("llvm.")} - _KNOWN
    assert not unknown, f"{part} calls {', '.join(sorted(unknown))}, which is not there without the compiler"
    return Part(entries, machine.emit_object(whole))


_KNOWN = {"memset", "memcpy", "memmove", "floor", "ceil", "floorf", "ceilf", "sqrt", "sqrtf"}
"""Functions of the C library that every process has."""


def _optimise(module: llvm.ModuleRef, machine: llvm.TargetMachine, called: set[str]) -> None:
    """Optimise a whole part at once. Everything but its entry points is internal, and dropped if unused."""
    for each in (*module.functions, *module.global_variables):
        if not each.is_declaration and each.name not in called:
            each.linkage = "internal"
    builder = llvm.create_pass_builder(machine, llvm.create_pipeline_tuning_options(speed_level=3))
    builder.getModulePassManager().run(module, builder)
    # Numba's own names count what a process has compiled; with these, the same sources give the same file.
    for number, each in enumerate(each for each in module.functions if not each.is_declaration and each.name not in called):
        each.name = f"function.{number}"


def _callback(function: Any, hints: dict[str, Any], returned: Any, *, is_technique: bool) -> Any:
    """The entry as a C function: its library, and the description of the function."""
    kinds = [_numba_type(hint) for hint in hints.values()]
    result = types.float64 if returned is float else types.int64
    gives_nothing = returned is type(None)
    if is_technique:
        read, window = _reading(kinds[:1]), list(hints.values())[1]

        def technique(words: Any, a: int, b: int, c: int, d: int, e: int, f: int, g: int, h: int, i: int) -> int:
            function(read(words)[0], window(a, b, c, d, e, f), g, h, i)
            return 0

        return _c_function(technique, types.int64(WORDS, *[types.int64] * TECHNIQUE_NUMBERS))
    takes_words = bool(kinds) and kinds[0] == WORDS
    read = _reading(kinds[1:] if takes_words else kinds)
    entry: Callable[..., Any]
    if takes_words:

        def entry(words: Any) -> int:
            function(words, *read(words))
            return 0

    elif gives_nothing:

        def entry(words: Any) -> int:
            function(*read(words))
            return 0

    else:

        def entry(words: Any) -> Any:
            return function(*read(words))

    return _c_function(entry, result(WORDS))


def _c_function(function: Callable[..., Any], signature: Any) -> Any:
    options: Any = {"error_model": "numpy", "no_cpython_wrapper": True, "_nrt": False}
    (compiled,) = numba.njit(signature, **options)(function).overloads.values()
    return compiled


def _numba_type(hint: Any) -> Any:
    """The compiler's type of an annotation."""
    if hint is Handed:
        return WORDS
    if hint in _PLAIN:
        return _PLAIN[hint]
    if typing.get_origin(hint) is np.ndarray:
        shape, dtype = typing.get_args(hint)
        return types.Array(numba.from_dtype(np.dtype(typing.get_args(dtype)[0])), len(typing.get_args(shape)), "C")
    if isinstance(hint, type) and issubclass(hint, np.generic):
        return numba.from_dtype(np.dtype(hint))
    kinds = [_numba_type(each) for each in typing.get_type_hints(hint).values()]
    untyped: Any = types
    return untyped.NamedUniTuple(kinds[0], len(kinds), hint) if len(set(kinds)) == 1 else untyped.NamedTuple(kinds, hint)


def _described(name: str, hint: Any) -> list[Taken]:
    """How an argument is passed in words, for the caller."""
    if hint is Handed:
        return []
    kind = _numba_type(hint)
    if isinstance(kind, types.Array):
        return [Taken(name, str(numba.np.numpy_support.as_dtype(kind.dtype)), kind.ndim)]
    if isinstance(kind, types.BaseNamedTuple):
        fields = typing.get_type_hints(hint)
        return [word for field, each in fields.items() for word in _described(f"{name}.{field}", each)]
    return [Taken(name, "bool" if kind == types.boolean else kind.name, 0)]


def _reading(kinds: list[Any]) -> Any:
    """A step that reads arguments of these types out of words."""
    handed: Any = types.Tuple(kinds)  # type: ignore[no-untyped-call]

    @intrinsic
    def read(typing_context: Any, words: Any) -> tuple[Any, Any]:
        def codegen(context: Any, builder: ir.IRBuilder, signature: Any, arguments: Any) -> Any:
            place = iter(range(sys.maxsize))

            def word() -> Any:
                return builder.load(builder.gep(arguments[0], [ir.Constant(_WORD, next(place))]))

            return context.make_tuple(builder, handed, [_value(context, builder, kind, word) for kind in kinds])

        return handed(words), codegen

    return read


def _value(context: Any, builder: ir.IRBuilder, kind: Any, word: Callable[[], Any]) -> Any:
    """An argument of a type, from as many words as it takes."""
    if isinstance(kind, types.Array):
        array = make_array(kind)(context, builder)  # type: ignore[no-untyped-call]
        data = builder.inttoptr(word(), context.get_data_type(kind.dtype).as_pointer())
        shape = [word() for _ in range(kind.ndim)]
        size = context.get_abi_sizeof(context.get_data_type(kind.dtype))
        strides = [ir.Constant(_WORD, size)]
        for length in reversed(shape[1:]):
            strides.insert(0, builder.mul(strides[0], length))
        populate_array(array, data, shape, strides, ir.Constant(_WORD, size), None)  # type: ignore[no-untyped-call]
        return array._getvalue()
    if isinstance(kind, types.BaseTuple):
        parts: Any = kind
        return context.make_tuple(builder, kind, [_value(context, builder, each, word) for each in parts])
    if kind == types.boolean:
        return builder.icmp_unsigned("!=", word(), ir.Constant(_WORD, 0))
    if kind == types.float64:
        return builder.bitcast(word(), ir.DoubleType())
    assert kind in {types.int64, types.uint64}, f"a kernel takes no {kind}"
    return word()


def compile_into(folder: Path, names: Iterable[str], target: Target) -> None:
    """Compile what a folder lacks, leaving to other processes what they are compiling."""
    busy = [name for name in names if not _compiled_once(folder, name, target, patience=0)]
    for name in busy:
        _compiled_once(folder, name, target, patience=-1)


def _compiled_once(folder: Path, name: str, target: Target, patience: float) -> bool:
    """Compile a part unless it is there; false if another process is compiling it and we do not wait."""
    file = file_of(folder, name)
    try:
        with FileLock(file.with_suffix(".lock"), timeout=patience):
            if read(file) is None:
                content = compiled(name, target).as_bytes()
                if file.is_dir() and not file.is_symlink():  # which no file can replace
                    shutil.rmtree(file)
                write_bytes(file, content, through_links=False)
    except Timeout:
        return False
    return True


def main() -> None:
    """Compile parts into a folder for a processor, as the command line says."""
    folder, target, names, later = sys.argv[1:]
    gc.disable()  # it would look through millions of Numba's values again and again, for a tenth of the time
    only_lower()
    compile_into(Path(folder), _in_turn(names.split(), later.split()), Target.from_text(target))


def _in_turn(names: Iterable[str], later: Iterable[str]) -> Iterator[str]:
    """The names, and those for later, of which the first lowers the priority of this process."""
    yield from names
    if hasattr(os, "nice"):
        os.nice(_LOW_PRIORITY)
    yield from later


if __name__ == "__main__":
    main()
