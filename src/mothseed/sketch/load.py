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
from mothseed.errors import Place, SketchError, UsageError
from mothseed.files import content_hash
from mothseed.sketch.artwork import Artwork
from mothseed.sketch.fault import explained

_MODULE_PREFIX = "sketch_"


@dataclass(frozen=True, slots=True)
class Sketch:
    """An artist's file, loaded: ready to be performed for any seed."""

    path: Path
    artwork: Artwork
    source_hash: str
    """content hash of the file as it was loaded"""
    pictures: frozenset[Path] = field(default=frozenset(), repr=False)
    """pictures that were read while it was loaded"""

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

    def modules(self) -> list[Path]:
        """Files of its own folder that it has imported so far, itself not among them."""
        return [file for file in _own_files(self.folder) if file != self.path]


def load_sketch(path: str | Path) -> Sketch:
    """Load a sketch from its file; it may import modules from its own folder.

    Raises UsageError where there is no such file, SketchError, with the line, where it does not run, is not Python, or has
    no artwork or more than one.
    """
    path = Path(path).resolve()
    try:
        source = path.read_bytes()
    except FileNotFoundError:
        raise UsageError(f"there is no sketch {path}", hint="look at the path; mothseed demo writes examples") from None
    except IsADirectoryError:
        raise UsageError(f"{path} is a folder, not a sketch", hint="name the .py file in it") from None
    except OSError as fault:
        raise UsageError(f"{path} cannot be read: {fault.strerror}") from None
    _forget_modules_of(path.parent)
    module = ModuleType(_MODULE_PREFIX + path.stem)
    module.__file__ = str(path)
    sys.modules[module.__name__] = module
    with running_code_of(path.parent), watching_pictures() as pictures:
        try:
            exec(compile(source, str(path), "exec", dont_inherit=True), module.__dict__)  # noqa: S102  # running it is the point
        except (Exception, SystemExit) as fault:
            raise explained(fault, lambda file: _is_own_code(file, path.parent)) from fault
    return Sketch(path, _only_artwork(module, path), content_hash(source), frozenset(pictures))


@contextlib.contextmanager
def running_code_of(folder: Path) -> Iterator[None]:
    """While a sketch's own code runs: its folder is importable, no compiled files are left in it, what it prints goes to
    standard error, as standard output is for results.
    """
    before = sys.dont_write_bytecode
    sys.path.insert(0, str(folder))
    sys.dont_write_bytecode = True
    try:
        with contextlib.redirect_stdout(sys.stderr):
            yield
    finally:
        sys.dont_write_bytecode = before
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
            place=Place(path, second.line, f"def {second.function.__name__}"),
        )
    return own[0]


def _forget_modules_of(folder: Path) -> None:
    """Modules of the folder that an earlier sketch imported may have changed since."""
    for name, file in _modules_below(folder):
        if _is_own_code(file, folder):
            del sys.modules[name]


def _own_files(folder: Path) -> list[Path]:
    return sorted({file for _, file in _modules_below(folder) if _is_own_code(file, folder)})


def _modules_below(folder: Path) -> list[tuple[str, Path]]:
    """Name and file of every loaded module whose file lies below a folder."""
    start = f"{folder}{os.sep}"
    files = ((name, getattr(module, "__file__", None)) for name, module in list(sys.modules.items()))
    return [(name, Path(file)) for name, file in files if isinstance(file, str) and file.startswith(start)]


def _is_own_code(file: Path, folder: Path) -> bool:
    """Whether a file lies in a sketch's folder and is not part of Python, a library or Moth Seed that happen to lie there."""
    if not file.is_relative_to(folder):
        return False
    foreign = [*map(Path, (sys.prefix, sys.base_prefix)), *map(Path, site.getsitepackages()), _OWN_PACKAGE]
    return not any(file.is_relative_to(place) and place.is_relative_to(folder) for place in foreign)


_OWN_PACKAGE = Path(__file__).resolve().parents[1]
