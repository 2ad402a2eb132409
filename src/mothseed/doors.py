"""What other installed packages bring: formats of picture, checks and measures, found by their entry points.

https://packaging.python.org/specifications/entry-points. A package is imported when what it brings is asked for, never before.
"""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING, TypeVar

from mothseed.faults import ExtensionError

if TYPE_CHECKING:
    from importlib.metadata import EntryPoint

FORMATS, CHECKS, MEASURES = "mothseed.formats", "mothseed.checks", "mothseed.measures"
"""Groups of entry points. A format's name is the ending of its files without the point; the other names are free."""

Kind = TypeVar("Kind")


@lru_cache(maxsize=8)
def _points(group: str) -> dict[str, EntryPoint]:
    from importlib.metadata import entry_points

    return {point.name: point for point in entry_points(group=group)}


def names(group: str) -> tuple[str, ...]:
    """The names of all that is brought of a kind; imports nothing."""
    return tuple(_points(group))


def package_of(group: str, name: str) -> str:
    """The package that brings something, as it was installed."""
    point = _points(group)[name]
    return point.dist.name if point.dist else point.module


def opened(group: str, name: str, kind: type[Kind]) -> Kind:
    """What is brought under a name; raises ExtensionError, with the package's name, where that fails or is of another kind."""
    package = package_of(group, name)
    try:
        found = _points(group)[name].load()
    except Exception as fault:
        raise ExtensionError(package, f"{name} cannot be loaded: {type(fault).__name__}: {fault}") from fault
    if not isinstance(found, kind):
        raise ExtensionError(package, f"{name} is no {kind.__name__} but a {type(found).__name__}")
    return found
