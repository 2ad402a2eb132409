"""The table of formats: which module writes which suffix. A new format takes a module and a row, or another package."""

from __future__ import annotations

from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

from mothseed import doors
from mothseed.faults import ExtensionError, FieldError, MothSeedError, PictureError
from mothseed.files import renamed
from mothseed.formats.format import Format, Written
from mothseed.formats.settings import Settings
from mothseed.sheet.drawing import Drawing

_MODULES = {
    ".png": "png",
    ".svg": "svg",
    ".pdf": "pdf",
    ".webp": "webp",
    ".tif": "tiff",
    ".tiff": "tiff",
    ".jpg": "jpeg",
    ".jpeg": "jpeg",
}
"""Modules of this package by suffix, each with a FORMAT, and imported only when such a file is asked for."""


def endings() -> tuple[str, ...]:
    """Suffixes of all picture files that can be written, including those of other installed packages."""
    return (*_MODULES, *(f".{name}" for name in doors.names(doors.FORMATS)))


def format_of(path: Path) -> Format:
    """The format of a file, by suffix; raises FieldError for an unknown one, ExtensionError if its package fails."""
    ending = path.suffix.lower()
    if ending in _MODULES:
        found: Format = import_module(f"mothseed.formats.{_MODULES[ending]}").FORMAT
        return found
    if ending.removeprefix(".") in doors.names(doors.FORMATS):
        return doors.opened(doors.FORMATS, ending.removeprefix("."), Format)
    raise FieldError(
        "output",
        f"{path} is not a picture format that can be written",
        hint=f"endings are {', '.join(endings())}: {renamed(path, '.png')}",
    )


def write_picture(path: Path, drawing: Drawing, history: str = "", settings: Settings | None = None) -> Written:
    """Write a drawing as the kind of file that the path's ending says, with its history, whole or not at all.

    Raises FieldError for an ending that no format has and a size that cannot be made, PictureError for what the format cannot
    hold, FileError where the file cannot be written, ExtensionError where another package's format fails.
    """
    form = format_of(path)
    wanted = settings or Settings()
    if path.suffix.lower() in _MODULES:
        return form.write(path, drawing, history, wanted)
    try:
        return form.write(path, drawing, history, wanted)
    except MothSeedError:
        raise
    except Exception as fault:
        raise ExtensionError(
            doors.package_of(doors.FORMATS, path.suffix.lower().removeprefix(".")),
            f"its {form.name} cannot be written: {type(fault).__name__}: {fault}",
        ) from fault


def history_in(path: Path) -> str | None:
    """The history that a picture file carries, as JSON, or None; raises PictureError where it is not a whole picture."""
    ending = path.suffix.lower()
    if ending in _MODULES:
        return format_of(path).history(path)
    from mothseed.formats.picture_reading import read_history

    return read_history(path)


def takers(setting: str) -> Iterator[Format]:
    """The formats that support a setting."""
    for module in dict.fromkeys(_MODULES.values()):
        form: Format = import_module(f"mothseed.formats.{module}").FORMAT
        if setting in form.takes:
            yield form


def refuse_settings(path: Path, given: dict[str, str]) -> None:
    """Raises FieldError for the first of some fields, given with their names in `Settings`, that the format of a file does
    not support.
    """
    form = format_of(path)
    for field, setting in given.items():
        if setting in form.takes:
            continue
        if setting in ("width", "dpi"):
            raise FieldError(
                field, f"{form.a_file} is as large as its sheet", hint="leave it out; the file can be printed at any size"
            )
        able = list(takers(setting))
        raise FieldError(
            field,
            f"that is for {' or '.join(each.a_file for each in able)}",
            hint=f"write the name of such a file: {renamed(path, able[0].endings[0]).name}",
        )


def unreadable(path: Path, fault: Exception) -> PictureError:
    """The error for a picture file that is missing or not whole."""
    if isinstance(fault, FileNotFoundError):
        return PictureError(f"there is no picture {path}", hint="check the path")
    return PictureError(f"{path} is not a whole picture: {fault}")
