"""A form of an edition's picture, and its place in the folder of the series: svg/0007.svg, png16/0007.png."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path, PurePosixPath

from mothseed.records import RecordError
from mothseed.render.rounding import DEPTHS, USUAL, Rounding
from mothseed.told import quoted


@dataclass(frozen=True, slots=True)
class Form:
    """A kind of file in which each edition is also written."""

    ending: str
    """in lower case, with its point"""
    rounding: Rounding = USUAL
    keep_text: bool = False

    @property
    def name(self) -> str:
        """Its name and that of its folder: svg, png16, png-grey-dither."""
        bits = str(self.rounding.bits) if self.rounding.bits != USUAL.bits else ""
        more = [word for word, asked in (("grey", self.rounding.grey), ("dither", self.rounding.dither)) if asked]
        more += ["text"] * self.keep_text
        return "-".join([f"{self.ending.removeprefix('.')}{bits}", *more])

    def file(self, picture: str) -> str:
        """Path of the form of a picture in the folder of the series, with slashes."""
        return f"{self.name}/{Path(picture).stem}{self.ending}"


def form_of(file: str) -> Form | None:
    """The form of a file in a series, from its path there; None if it belongs to no form."""
    place = PurePosixPath(file)
    kind, *words = place.parent.name.split("-")
    ending = place.suffix
    bits = kind.removeprefix(ending.removeprefix("."))
    rounding = Rounding(int(bits) if bits in map(str, DEPTHS) else USUAL.bits, "grey" in words, "dither" in words)
    form = Form(ending, rounding, "text" in words)
    return form if form.file(place.name) == file else None


def check_files(files: Mapping[str, str], picture: str) -> None:
    """Raises RecordError if the files of an edition are not forms of its picture: they could be any files."""
    for name in files:
        if not is_form(name, picture):
            raise RecordError(f"files: {quoted(name)} is not a form of {quoted(picture)}")


def is_form(file: str, picture: str) -> bool:
    """Whether the path of a file in a series is that of a form of a picture."""
    form = form_of(file)
    return bool(picture) and form is not None and form.file(picture) == file
