"""Settings: values of dials, kept under a name in a file beside the sketch.

The file of `specimen.py` is `specimen.settings.toml`: a TOML table for each setting, with a line for each dial.
"""

from __future__ import annotations

import re
import tomllib
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from mothseed.faults import MissingFileError, UnknownNameError, UsageError
from mothseed.files import read_ordinary
from mothseed.told import quoted

_NAME = re.compile(r"\w[\w-]*")
_KINDS = (bool, int, float, str)


def settings_file(sketch: Path) -> Path:
    """The file with the settings of a sketch."""
    return sketch.with_suffix(".settings.toml")


def kept_settings(sketch: Path) -> dict[str, dict[str, Any]]:
    """All settings of a sketch by name, each with dials and values; empty without a file. Raises UsageError for an invalid
    file, with what is wrong in it.
    """
    path = settings_file(sketch)
    hint = "write [dawn] and below it spots = 3; docs/files.md shows a whole one"
    try:
        content = tomllib.loads(read_ordinary(path).decode())
    except FileNotFoundError:
        return {}
    except OSError as fault:
        raise MissingFileError(f"{path} cannot be read: {fault.strerror or fault}") from None
    except (ValueError, RecursionError) as fault:
        raise UsageError(f"{path} is not TOML: {fault}", hint=hint) from None
    for name, dials in content.items():
        if not isinstance(dials, dict):
            raise UsageError(f"{path}: {name} is not a table of dials", hint=hint)
        for dial, value in dials.items():
            if not isinstance(value, _KINDS):
                raise UsageError(f"{path}: {name}.{dial} is not a value for a dial (got {quoted(value)})", hint=hint)
    return content


def settings_of(sketch: Path, name: str) -> dict[str, Any]:
    """The dials of a setting with their values; raises UnknownNameError if there is none of that name."""
    kept = kept_settings(sketch)
    if name not in kept:
        known = f"it has {', '.join(kept)}" if kept else f"there is no {settings_file(sketch)}"
        raise UnknownNameError("settings", f"{sketch.name} has no settings {quoted(name)}; {known}", name=name, known=kept)
    return kept[name]


def check_name(name: str) -> None:
    """Raises UsageError for a name that is not a word."""
    if not _NAME.fullmatch(name):
        raise UsageError(
            f"settings are kept by a word (got {quoted(name)})", hint="take letters, digits and hyphens, such as dawn"
        )


def keep_settings(sketch: Path, name: str, dials: Mapping[str, Any]) -> Path:
    """Keep dials with their values under a name, replacing what was there; returns the file. Everything else in the file
    stays as written, including comments. Raises UsageError for a name that is not a word, and FileError if the file cannot be
    written.
    """
    import tomlkit

    from mothseed.files import write_bytes

    check_name(name)
    path = settings_file(sketch)
    kept_settings(sketch)  # a file that cannot be read is not overwritten
    document = tomlkit.parse(path.read_text(encoding="utf-8")) if path.exists() else tomlkit.document()
    table = tomlkit.table()
    table.update(dials)
    if name in document:
        document[name] = table
    else:
        if document.as_string():
            document.add(tomlkit.nl())
        document.add(name, table)
    write_bytes(path, document.as_string().encode())
    return path
