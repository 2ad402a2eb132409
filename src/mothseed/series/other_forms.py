"""Other forms of an edition's picture, beside the PNG shown on sheets and pages: vector files, other raster formats, 16 bits.

Each form has its own folder in the series: svg/0007.svg, tiff/0007.tiff, png16/0007.png.
"""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from mothseed.faults import FieldError, FileError, PictureError
from mothseed.files import file_hash
from mothseed.formats import Settings
from mothseed.formats.registry import endings, format_of
from mothseed.making import Made
from mothseed.render.rounding import USUAL, Rounding
from mothseed.series.form import Form, is_form
from mothseed.series.pictures import ordinary_status
from mothseed.sketch.history import history_in_picture
from mothseed.told import quoted


def write_form(form: Form, made: Made, folder: Path, picture: str, width: int, dpi: float | None) -> str:
    """Write a form of a picture; returns the hash of its file. Raises FileError if it cannot be written."""
    path = folder / form.file(picture)
    refuse_link(path)
    if path.is_symlink():
        path.unlink()
    made.write(path, Settings(width, dpi, rounding=form.rounding, keep_text=form.keep_text, threads=1))
    return file_hash(path) or ""


def refuse_link(path: Path) -> None:
    """Raises FileError if a file of a series would lie in a folder that is a link, which could lead anywhere."""
    if path.parent.is_symlink():
        raise FileError(f"{path.parent} is a link, and the folder of a form lies in its series", hint="remove the link")


def forms_named(names: Iterable[str], rounding: Rounding = USUAL, *, keep_text: bool = False) -> tuple[Form, ...]:
    """The named forms, such as "svg" and "pdf"; depth, grey and dithering apply to those that support them. A plain PNG is
    what every edition has anyway, and is not a form. Raises FieldError for an unknown format, and for a depth or text option
    that none of the forms supports.
    """
    chosen: list[Form] = []
    taken: set[str] = set()
    for name in dict.fromkeys(name.lower().removeprefix(".") for name in names):
        if f".{name}" not in endings():
            known = ", ".join(ending.removeprefix(".") for ending in endings())
            raise FieldError("format", f"expected {known}, got {quoted(name)}")
        takes = format_of(Path(f"picture.{name}")).takes
        taken |= takes
        form = Form(f".{name}", rounding if "rounding" in takes else USUAL, keep_text and "keep_text" in takes)
        if form != Form(".png"):
            chosen.append(form)
    if rounding != USUAL and "rounding" not in taken:
        raise FieldError("format", "16 bits, grey and dithering are for a PNG", hint="ask for a png too")
    if keep_text and "keep_text" not in taken:
        raise FieldError("format", "text is kept as text in an SVG", hint="ask for an svg too")
    return tuple(chosen)


def forms_beside(folder: Path, picture: str, fingerprint: str) -> dict[str, str]:
    """The forms of a picture in its series that carry the same fingerprint, with the hash of each file."""
    found = {}
    stem = Path(picture).stem
    for path in sorted(folder.glob(f"*/{stem}.*")):
        name = f"{path.parent.name}/{path.name}"
        if is_form(name, picture) and form_there(folder, name) and fingerprint_in(path) == fingerprint:
            found[name] = file_hash(path) or ""
    return found


def form_there(folder: Path, name: str) -> Path | None:
    """The path of a form in the series; None if there is none, or it is a link, which could lead anywhere."""
    path = folder / name
    return None if path.parent.is_symlink() or ordinary_status(path) is None else path


def fingerprint_in(path: Path) -> str:
    """The fingerprint of the drawing in a picture file; empty if it carries none."""
    try:
        history = history_in_picture(path)
    except PictureError:
        return ""
    return history.fingerprint if history else ""
