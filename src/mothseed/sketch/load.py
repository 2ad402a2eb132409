"""Loading a sketch: from a file to the artwork in it."""

from __future__ import annotations

import contextlib
import os
import site
import sys
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from importlib.abc import MetaPathFinder
from importlib.machinery import ModuleSpec, PathFinder, SourceFileLoader
from pathlib import Path
from types import ModuleType
from typing import Never, NoReturn

from mothseed.faults import MissingFileError, SketchError, UsageError, Whereabouts, did_you_mean
from mothseed.files import content_hash
from mothseed.reading import Reading, reading_by
from mothseed.sketch.artwork import Artwork
from mothseed.sketch.explain import explaining

_MODULE_PREFIX = "sketch_"


@dataclass(frozen=True, slots=True)
class Sketch:
    """An artist's file, loaded: ready to be performed for any seed."""

    path: Path
    artwork: Artwork
    source_hash: str
    """content hash of the file as it was loaded"""
    pictures: frozenset[Path] = field(repr=False)
    """pictures read while it was loaded"""
    modules: dict[str, ModuleType] = field(repr=False)
    """the sketch and the modules of its folder imported so far, by name"""
    reading: Reading = field(repr=False, default_factory=Reading)
    """how its files are read, and what they contained"""

    @property
    def name(self) -> str:
        """The file's name without its suffix."""
        return self.path.stem

    @property
    def folder(self) -> Path:
        """The folder it is in, where its modules and pictures are found."""
        return self.path.parent

    def is_own(self, file: Path) -> bool:
        """Whether a file is the sketch or a module of its folder, rather than a library."""
        return _is_own_code(file, self.folder)

    def module_files(self) -> list[Path]:
        """The files of modules imported from its folder so far."""
        files = {Path(module.__file__) for module in self.modules.values() if module.__file__}
        return sorted(files - {self.path})


def load_sketch(path: str | Path, reading: Reading | None = None) -> Sketch:
    """Load a sketch from its file. It may import modules from its own folder, and gets them as they are now, or as `reading`
    provides them. Raises UsageError if there is no such file; SketchError, with the line, if it does not run, is not Python,
    or does not have exactly one artwork.
    """
    path = Path(path).resolve()
    refuse_other_files(path)
    reading = reading or Reading()
    try:
        source = reading.content(path)
    except FileNotFoundError:
        near = did_you_mean(path.name, [file.name for file in path.parent.glob("*.py")])
        raise MissingFileError(
            f"there is no sketch {path}", hint=near or "check the path; mothseed demo writes examples"
        ) from None
    except IsADirectoryError:
        raise MissingFileError(f"{path} is a folder, not a sketch", hint="name the .py file in it") from None
    except OSError as fault:
        raise MissingFileError(f"{path} cannot be read: {fault.strerror}") from None
    module = ModuleType(_MODULE_PREFIX + path.stem)
    module.__file__ = str(path)
    modules = {module.__name__: module}
    with (
        running_code_of(path.parent, modules, reading),
        reading_by(reading) as pictures,
        explaining(lambda file: _is_own_code(file, path.parent)),
    ):
        exec(compile(source, str(path), "exec", dont_inherit=True), module.__dict__)  # noqa: S102  # running it is the point
    return Sketch(path, _only_artwork(module, path), content_hash(source), frozenset(pictures), modules, reading)


def refuse_other_files(path: Path) -> None:
    """Raises UsageError for a file whose name is not that of a sketch."""
    if path.suffix == ".py" or path.is_dir():
        return
    there = path.with_name(path.name + ".py")
    hint = f"did you mean {there.name}?" if there.is_file() else "mothseed new lamplight.py writes one to start from"
    if path.suffix.lower() == ".toml":
        hint = f"a plan is made with: mothseed edition {path.name}"
    raise UsageError(f"{path.name} is not a sketch, which is a .py file", hint=hint)


@contextlib.contextmanager
def running_code_of(folder: Path, modules: dict[str, ModuleType], reading: Reading) -> Iterator[None]:
    """A block that runs a sketch's own code: its folder is importable, and its modules are collected in `modules`.

    Afterwards Python forgets them, so that sketches of two folders, or two states of one, never get each other's modules. No
    compiled files are left in the folder. What the sketch prints goes to standard error, as standard output is for results.
    """
    before, here = sys.dont_write_bytecode, _current_folder()
    finder = _OwnModules(folder, reading)
    sys.path.append(str(folder))
    sys.meta_path.insert(_before_the_path(), finder)
    sys.modules.update(modules)
    sys.dont_write_bytecode = True
    try:
        with contextlib.redirect_stdout(sys.stderr), _no_forks():
            yield
    finally:
        sys.dont_write_bytecode = before
        if here and here != _current_folder():
            os.chdir(here)
        modules.update(_own_modules(folder))
        for name in modules:
            sys.modules.pop(name, None)
        with contextlib.suppress(ValueError):
            sys.path.remove(str(folder))
        with contextlib.suppress(ValueError):
            sys.meta_path.remove(finder)


def _current_folder() -> str:
    """The current folder, or None if it no longer exists."""
    try:
        return os.getcwd()  # noqa: PTH109  # a path would be looked at more closely than it can be here
    except OSError:
        return ""


@contextlib.contextmanager
def _no_forks() -> Iterator[None]:
    """A block in which forking is refused: both halves would go on as if they were making the picture."""
    before = {name: getattr(os, name) for name in ("fork", "forkpty") if hasattr(os, name)}

    def refuse(*_: object) -> NoReturn:
        hint = "draw with arrays, or let mothseed edition have several processes"
        raise SketchError("a sketch cannot split its process", hint=hint)

    for name in before:
        setattr(os, name, refuse)
    try:
        yield
    finally:
        for name, function in before.items():
            setattr(os, name, function)


class _OwnModules(MetaPathFinder):
    """Finds the modules of a sketch's folder, whose source is read like all files of the sketch."""

    def __init__(self, folder: Path, reading: Reading) -> None:
        self._folder = folder
        self._reading = reading

    def find_spec(self, fullname: str, path: Sequence[str] | None, target: ModuleType | None = None) -> ModuleSpec | None:
        if path is None and fullname in sys.stdlib_module_names:
            return None  # a random.py beside the sketch must not replace Python's own module
        spec = PathFinder.find_spec(fullname, [str(self._folder)] if path is None else path, target)
        if spec is None or not isinstance(spec.loader, SourceFileLoader) or not spec.origin:
            return None
        file = Path(spec.origin)
        if _is_own_code(file, self._folder):
            spec.loader = _Source(fullname, spec.origin, self._reading)
            return spec
        return None


class _Source(SourceFileLoader):
    """Loads a module from its source, ignoring compiled files, which may be of another state."""

    def __init__(self, name: str, file: str, reading: Reading) -> None:
        super().__init__(name, file)
        self._reading = reading

    def get_data(self, path: str) -> bytes:
        return self._reading.content(Path(path))

    def path_stats(self, path: str) -> Never:
        raise OSError(path)  # so that Python does not look for compiled files


def _before_the_path() -> int:
    """The index of the finder for `sys.path` among Python's finders."""
    return next((place for place, finder in enumerate(sys.meta_path) if finder is PathFinder), len(sys.meta_path))


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
    """The loaded modules that are a sketch's own code, by name."""
    start = f"{folder}{os.sep}"
    return {
        name: module
        for name, module in list(sys.modules.items())
        if isinstance(file := getattr(module, "__file__", None), str)
        and file.startswith(start)  # a quick test that leaves few to look at closely
        and _is_own_code(Path(file), folder)
        # The program may have been started by a path in the sketch's folder; it is not a module of the sketch.
        and name != "__main__"
    }


def _is_own_code(file: Path, folder: Path) -> bool:
    """Whether a file is in a sketch's folder, and not part of Python, a library or Moth Seed that happens to be there."""
    if not file.is_relative_to(folder):
        return False
    foreign = [*map(Path, (sys.prefix, sys.base_prefix)), *map(Path, site.getsitepackages()), _OWN_PACKAGE]
    return not any(file.is_relative_to(place) and place.is_relative_to(folder) for place in foreign)


_OWN_PACKAGE = Path(__file__).resolve().parents[1]
