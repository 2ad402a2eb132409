"""Compiled parts are whole or absent, made once, and made again where they are damaged."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import threading
import time
from pathlib import Path
from typing import Any

import pytest

from mothseed.faults import CompilerError
from mothseed.making import prepare_kernels
from mothseed.native import build, compiler, compiling, store
from mothseed.native.compiling import CompilingProgress, when_compiling
from mothseed.native.part import EntryPoint, Part, Taken
from mothseed.native.target import Target, this_machine, usual_targets

A_PART = Part(
    {"ramps.mix": EntryPoint("mothseed.ramps.mix", (Taken("first", "int64", 1),), "int64")}, b"\x7fELF code\n\0 and more"
)


def python(program: str, **environment: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-c", program], env={**os.environ, **environment}, capture_output=True, text=True, check=False
    )


def test_a_part_is_read_as_it_was_written() -> None:
    assert Part.from_bytes(A_PART.as_bytes()) == A_PART


@pytest.mark.parametrize(
    "damaged",
    [
        b"",
        b"\0" * 500,
        A_PART.as_bytes()[:-1],
        A_PART.as_bytes()[:30],
        A_PART.as_bytes() + b"x",
        A_PART.as_bytes().replace(b"code", b"c0de"),
        A_PART.as_bytes().replace(b"kernels 1", b"kernels 2"),
        b"\xff\xfe not a part \n\n\n",
    ],
)
def test_a_damaged_part_is_as_good_as_none(damaged: bytes, tmp_path: Path) -> None:
    with pytest.raises(ValueError, match="damaged"):
        Part.from_bytes(damaged)
    file = tmp_path / "ramps.kernels"
    file.write_bytes(damaged)
    assert store.read(file) is None
    assert store.read(tmp_path) is None


def test_damaged_and_missing_parts_are_made_again_by_the_first_who_needs_them(tmp_path: Path) -> None:
    prepare_kernels()
    here = store.home()
    assert here is not None
    folder = tmp_path / here.name
    shutil.copytree(here, folder)
    store.file_of(folder, "ramps").write_bytes(b"cut short")
    for name in ("filters", "noise", "storing"):
        store.file_of(folder, name).unlink()
    store.file_of(folder, "noise").symlink_to("/dev/zero")
    store.file_of(folder, "storing").mkdir()
    together = [
        subprocess.Popen(
            [sys.executable, "-m", "mothseed", "prepare"],
            env={**os.environ, store.FOLDER_VARIABLE: str(tmp_path)},
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
        )
        for _ in range(2)
    ]
    for process in together:
        out, err = process.communicate(timeout=120)
        assert (process.returncode, out.split("  ")[0]) == (0, str(folder)), err
    for name in store.PARTS:
        assert store.read(store.file_of(folder, name)) == store.read(store.file_of(here, name))


def test_those_who_start_together_compile_once(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    made: list[str] = []

    def slowly(name: str, target: Target) -> Part:
        made.append(name)
        time.sleep(0.1)
        return A_PART

    monkeypatch.setattr(compiler, "compiled", slowly)
    names = ["first", "second", "third"]
    threads = [threading.Thread(target=compiler.compile_into, args=(tmp_path, names, this_machine())) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(made) == names
    assert all(store.read(store.file_of(tmp_path, name)) == A_PART for name in names)


def test_where_no_folder_can_be_written_parts_last_as_long_as_the_process(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("no folder")
    program = (
        "from mothseed.native import store; assert store.kernel_folder() is None; "
        "folder = store.lasting_folder(); print(folder, folder.is_dir(), store.kernel_folder() == folder); "
        "print(store.is_temporary(folder))"
    )
    done = python(program, MOTHSEED_CACHE_DIR=str(tmp_path / "file" / "below"))
    folder, *held = done.stdout.split()
    assert held == ["True", "True", "True"], done.stderr
    assert not store.is_temporary(store.lasting_folder())
    assert not Path(folder).exists()


def test_a_compiler_that_fails_says_so_and_names_a_remedy(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(build, "PARTS", {"no_such_part": 1.0})
    with pytest.raises(CompilerError, match="could not be compiled for this machine: ModuleNotFoundError") as caught:
        build.compile_for(this_machine(), tmp_path, ["no_such_part"])
    assert "python -m numba -s" in caught.value.hint


def test_who_asked_is_told_how_far_compiling_has_come(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    told: list[CompilingProgress] = []
    monkeypatch.setattr(compiling, "_asked", [])
    when_compiling(told.append)
    build.compile_for(this_machine(), tmp_path, ["ramps"])
    assert told[0][:2] == (0, 1)
    assert told[0].seconds_left > 0
    assert told[-1] == (1, 1, 0.0)


def test_compilers_go_on_with_what_a_picture_may_need_next(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    begin, started = subprocess.Popen, []

    def start(*words: Any, **settings: Any) -> subprocess.Popen[bytes]:
        started.append(begin(*words, **settings))
        return started[-1]

    monkeypatch.setattr(subprocess, "Popen", start)
    monkeypatch.setattr(os, "cpu_count", lambda: 1)
    monkeypatch.setattr(build, "PARTS", {"ramps": 1.0, "reducing": 1.0})
    monkeypatch.setattr(build, "lasting_folder", lambda: tmp_path)
    monkeypatch.setattr(store, "kernel_folder", lambda: tmp_path)
    assert build.compile_here(["ramps"]).keys() == {"ramps"}
    assert build.compile_here(["reducing"]).keys() == {"reducing"}
    assert len(started) == 1
    assert started[0].wait(30) == 0
    store.file_of(tmp_path, "reducing").write_bytes(b"cut short")
    assert build.compile_here(["reducing"]).keys() == {"reducing"}, "none goes on, so another begins"
    assert len(started) == 2


def test_what_the_package_brings_along_needs_no_folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(store, "_READY_MADE", tmp_path)
    monkeypatch.setattr(store, "kernel_folder", lambda: None)
    assert store.kept("ramps") is None
    folder = store.ready_made_folder(this_machine())
    folder.mkdir()
    store.file_of(folder, "ramps").write_bytes(A_PART.as_bytes())
    assert store.kept("ramps") == A_PART
    assert store.home() is None
    for name in store.PARTS:
        store.file_of(folder, name).write_bytes(A_PART.as_bytes())
    assert store.home() == folder


def test_the_state_of_sources_processor_and_compiler_has_a_folder_of_its_own(monkeypatch: pytest.MonkeyPatch) -> None:
    def folder() -> Path | None:
        store.kernel_folder.cache_clear()
        return store.kernel_folder()

    usual = folder()
    others = []
    for name, value in (
        ("_state_of_sources", "other"),
        ("this_machine", Target("riscv64-unknown-linux-gnu", "generic")),
        ("_compiler_state", "9.9"),
    ):
        with monkeypatch.context() as patch:
            patch.setattr(store, name, lambda value=value: value)
            others.append(folder())
    assert folder() == usual
    assert len({usual, *others}) == 4


def test_this_machine_is_one_of_those_that_parts_are_brought_along_for() -> None:
    assert this_machine() in usual_targets()
    assert Target.from_text(this_machine().as_text()) == this_machine()


def test_a_picture_of_plain_shapes_takes_the_common_parts_and_no_other() -> None:
    program = (
        "from mothseed.colour import Colour; from mothseed.sheet import Sheet; from mothseed.render import rendered\n"
        "from mothseed.native import library; sheet = Sheet(40, 30, 'px', Colour(1, 1, 1)); sheet.circle(20, 15, 9)\n"
        "sheet.line(1, 1, 30, 20, stroke='teal'); rendered(sheet.drawing(), 40);"
        "print(*library._loaded)"  # what is at hand is told to nobody
    )
    assert set(python(program).stdout.split()) == set(store.COMMON)


def test_compilers_of_ones_own_are_left_alone(tmp_path: Path) -> None:
    program = "import sys; from mothseed.making import prepare_kernels; prepare_kernels(); print('numba' in sys.modules)"
    assert python(program, NUMBA_DISABLE_JIT="1", NUMBA_CACHE_DIR=str(tmp_path)).stdout.split() == ["False"]
    assert list(tmp_path.iterdir()) == []
