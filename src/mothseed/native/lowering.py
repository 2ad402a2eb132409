"""Numba's work as far as LLVM's instructions, and no further.

By itself Numba links each function with all that it calls, and makes machine code of that, only to do so again for each caller.
Here functions are kept as text until a part is linked and optimised, once and as a whole, which halves the time. What of Numba
this builds on has been the same from its version 0.61 to 0.68.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NoReturn

import llvmlite.binding as llvm
from llvmlite import ir
from numba.core.codegen import AOTCPUCodegen, CodeLibrary
from numba.core.compiler import CompilerBase
from numba.core.compiler_machinery import PassManager
from numba.core.registry import cpu_target
from numba.core.typed_passes import IRLegalization, NativeLowering, NoPythonBackend, NopythonTypeInference, PreLowerStripPhis
from numba.core.untyped_passes import FixupArgs, GenericRewrites, IRProcessing, ReconstructSSA, TranslateByteCode

_PASSES = (
    TranslateByteCode,
    FixupArgs,
    IRProcessing,
    GenericRewrites,
    ReconstructSSA,
    NopythonTypeInference,
    PreLowerStripPhis,
    IRLegalization,
    NativeLowering,
    NoPythonBackend,
)


class Passes(CompilerBase):
    """Of Numba's passes those that a kernel needs, which has no closures, no `with` and no expressions of whole arrays."""

    def define_pipelines(self) -> list[PassManager]:
        """As Numba calls it."""
        manager: Any = PassManager("kernels")  # type: ignore[no-untyped-call]
        for each in _PASSES:
            manager.add_pass(each, each.__name__)
        manager.finalize()
        return [manager]


class Lowered(CodeLibrary):
    """The instructions of a function, and the libraries of the functions that it calls."""

    def __init__(self, codegen: AOTCPUCodegen, name: str) -> None:
        super().__init__(codegen, name)
        self._modules: list[str] = []
        self._called: list[Lowered] = []

    def add_ir_module(self, ir_module: ir.Module) -> None:
        """As Numba calls it."""
        self._modules.append(str(ir_module))

    def add_linking_library(self, library: Lowered) -> None:
        """As Numba calls it."""
        self._called.append(library)

    def finalize(self) -> None:
        """Nothing is left to do before the part is linked."""

    def get_llvm_str(self) -> str:
        """The modules one after the other, to be read."""
        return "\n".join(self._modules)

    def get_function(self, name: str) -> NoReturn:
        """Numba has such a method; no function is to be had from here, as only a part is linked."""
        raise NotImplementedError(name)

    def get_asm_str(self) -> NoReturn:
        """Numba has such a method; there is no machine code here."""
        raise NotImplementedError

    def link_into(self, module: llvm.ModuleRef, linked: set[Lowered]) -> None:
        """Add its functions and all that they call to a module, but for the libraries that are linked, and note them there."""
        if self not in linked:
            linked.add(self)
            for each in self._modules:
                module.link_in(llvm.parse_assembly(each))
            for library in self._called:
                library.link_into(module, linked)


class _Lowering(AOTCPUCodegen):
    def create_library(self, name: str, **_: Any) -> Lowered:
        return Lowered(self, name)


def only_lower() -> None:
    """From now on all that Numba compiles in this process becomes instructions, in a library as above, and cannot be called."""
    context: Any = cpu_target.target_context
    lowering = _Lowering("mothseed")  # type: ignore[no-untyped-call]
    context.codegen = lambda: lowering
    context.get_executable = _stand_in


def _stand_in(*_: Any) -> Callable[..., Any]:
    """What Numba knows a function by: any builtin function that no other function has."""
    return [].append
