"""Loading a sketch: from a file to the artwork in it."""

from __future__ import annotations

import contextlib
import os
import site
import sys
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from types import ModuleType

from mothseed.colour.picture import watching_pictures
from mothseed.faults import MissingFileError, SketchError, UsageError, Whereabouts, did_you_mean
from mothseed.files import content_hash
from mothseed.sketch.artwork import Artwork
from mothseed.sketch.explain import explained

_MODULE_PREFIX = "sketch_"


@dataclass(frozen=True, slots=True)
class Sketch:
    """An artist's file, loaded: ready to be performed for any seed."""

    path: Path
    artwork: Artwork
    source_hash: str
    """content hash of the file as it was loaded"""
    pictures: frozenset[Path] = field(repr=False)
    """pictures that were read while it was loaded"""
    modules: dict[str, ModuleType] = field(repr=False)
    """the sketch as a module, and those of its folder that it has imported so far, by name"""

    @property
    def name(self) -> str:
        """The file's name without its ending."""
        return self.path.stem

    @property
    def folder(self) -> Path:
        """Where it lies: its own modules and pictures are found from there."""
        return self.path.parent

    def is_own(self, file: Path) -> bool:
        """Whether a file is the sketch itself or a module of its folder, rather than a library."""
        return _is_own_code(file, self.folder)

    def module_files(self) -> list[Path]:
        """The files of the modules that it has imported from its folder so far."""
        files = {Path(module.__file__) for module in self.modules.values() if module.__file__}
        return sorted(files - {self.path})


def load_sketch(path: str | Path) -> Sketch:
    """Load a sketch from its file; it may import modules from its own folder, and gets them as they are now.

    Raises UsageError where there is no such file, SketchError, with the line, where it does not run, is not Python, or has
    no artwork or more than one.
    """
    path = Path(path).resolve()
    if path.suffix != ".py" and not path.is_dir():
        there = path.with_name(path.name + ".py")
        raise UsageError(
            f"{path.name} is not a sketch, which is a .py file",
            hint=f"did you mean {there.name}?" if there.is_file() else "mothseed new lamplight.py writes one to start from",
        )
    try:
        source = path.read_bytes()
    except FileNotFoundError:
        near = did_you_mean(path.name, [file.name for file in path.parent.glob("*.py")])
        raise MissingFileError(
            f"there is no sketch {path}", hint=near or "look at the path; mothseed demo writes examples"
        ) from None
    except IsADirectoryError:
        raise MissingFileError(f"{path} is a folder, not a sketch", hint="name the .py file in it") from None
    except OSError as fault:
        raise MissingFileError(f"{path} cannot be read: {fault.strerror}") from None
    module = ModuleType(_MODULE_PREFIX + path.stem)
    module.__file__ = str(path)
    modules = {module.__name__: module}
    with running_code_of(path.parent, modules), watching_pictures() as pictures:
        try:
            exec(compile(source, str(path), "exec", dont_inherit=True), module.__dict__)  # noqa: S102  # running it is the point
        except (Exception, SystemExit) as fault:
            raise explained(fault, lambda file: _is_own_code(file, path.parent)) from fault
    return Sketch(path, _only_artwork(module, path), content_hash(source), frozenset(pictures), modules)


@contextlib.contextmanager
def running_code_of(folder: Path, modules: dict[str, ModuleType]) -> Iterator[None]:
    """While a sketch's own code runs: its folder is importable, and its modules, with what it imports, are in `modules`.

    Afterwards Python has forgotten them, so that sketches of two folders, or one that was changed, never get each other's.
    No compiled files are left in the folder. What the sketch prints goes to standard error, as standard output is for
    results.
    """
    before = sys.dont_write_bytecode
    sys.path.insert(0, str(folder))
    sys.modules.update(modules)
    sys.dont_write_bytecode = True
    try:
        with contextlib.redirect_stdout(sys.stderr):
            yield
    finally:
        sys.dont_write_bytecode = before
        modules.update(_own_modules(folder))
        for name in modules:
            sys.modules.pop(name, None)
        with contextlib.suppress(ValueError):
            sys.path.remove(str(folder))


def _only_artwork(module: ModuleType, path: Path) -> Artwork:
    found = {id(value): value for value in vars(module).values() if isinstance(value, Artwork)}
    own = [value for value in found.values() if Path(value.function.__code__.co_filename) == path]
    if not own:
        raise SketchError(f"{path} has no artwork", hint="mark the function that draws with @artwork(width=180, height=240)")
    if len(own) > 1:
        first, second, *_ = sorted(own, key=lambda value: value.line)
        raise SketchError(
            f"a sketch draws one picture, but this has two: {first.function.__name__} and {second.function.__name__}",
            hint="take @artwork off one of them, or move it to a file of its own",
            place=Whereabouts(path, second.line, f"def {second.function.__name__}"),
        )
    return own[0]


def _own_modules(folder: Path) -> dict[str, ModuleType]:
    """The loaded modules whose files are a sketch's own code, by name."""
    start = f"{folder}{os.sep}"
    files = {name: str(getattr(module, "__file__", "")) for name, module in list(sys.modules.items())}
    below = {name: Path(file) for name, file in files.items() if file.startswith(start)}
    return {name: sys.modules[name] for name, file in below.items() if _is_own_code(file, folder)}


def _is_own_code(file: Path, folder: Path) -> bool:
    """Whether a file lies in a sketch's folder and is not part of Python, a library or Moth Seed that happen to lie there."""
    if not file.is_relative_to(folder):
        return False
    foreign = [*map(Path, (sys.prefix, sys.base_prefix)), *map(Path, site.getsitepackages()), _OWN_PACKAGE]
    return not any(file.is_relative_to(place) and place.is_relative_to(folder) for place in foreign)


_OWN_PACKAGE = Path(__file__).resolve().parents[1]
