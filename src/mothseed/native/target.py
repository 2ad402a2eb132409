"""The processors that kernels are compiled for.

Code for the newest level that a processor reaches serves it as well as code for its exact model, and can be shipped
ready-made. The levels of x86-64 are those of its psABI, section 3.1.1.
"""

from __future__ import annotations

import platform
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Self

_LEVELS = {
    "x86-64-v4": "avx512f avx512bw avx512cd avx512dq avx512vl avx2 bmi bmi2 f16c fma lzcnt movbe",
    "x86-64-v3": "avx avx2 bmi bmi2 f16c fma lzcnt movbe",
    "x86-64-v2": "cx16 popcnt sse3 sse4.1 sse4.2 ssse3",
}
"""Levels of x86-64, newest first, with the features that each requires."""


@dataclass(frozen=True, slots=True)
class Target:
    """What to compile for."""

    triple: str
    cpu: str
    features: str = ""

    def machine(self) -> Any:
        """LLVM's target machine."""
        llvm = _llvm()
        # All addresses are absolute, as parts may be loaded anywhere.
        place = {"reloc": "static" if self.triple.startswith("x86") else "default", "codemodel": "jitdefault", "jit": True}
        return llvm.Target.from_triple(self.triple).create_target_machine(cpu=self.cpu, features=self.features, opt=3, **place)

    def as_text(self) -> str:
        """The target in one word."""
        return f"{self.triple}/{self.cpu}/{self.features}"

    @classmethod
    def from_text(cls, text: str) -> Self:
        """The target of such a word."""
        return cls(*text.split("/"))


@lru_cache(maxsize=1)
def this_machine() -> Target:
    """The target of this machine: a level of x86-64, or the exact processor of another kind."""
    llvm = _llvm()
    triple = llvm.get_process_triple()
    features = llvm.get_host_cpu_features()
    if platform.machine().lower() in {"x86_64", "amd64"}:
        for level, needed in _LEVELS.items():
            if all(features.get(each) for each in needed.split()):
                return Target(triple, level)
    return Target(triple, llvm.get_host_cpu_name(), features.flatten())


def usual_targets() -> list[Target]:
    """The processors of this platform for which ready-made kernels are built."""
    here = this_machine()
    return [Target(here.triple, level) for level in _LEVELS] if here.cpu in _LEVELS else [here]


@lru_cache(maxsize=1)
def _llvm() -> Any:
    # Imported to compile or load: many commands do neither.
    import llvmlite.binding as llvm

    llvm.initialize_native_target()
    llvm.initialize_native_asmprinter()
    return llvm
