"""An edition: one picture of a series, as recorded in the ledger."""

from __future__ import annotations

from dataclasses import dataclass, field

from mothseed.colour.value import Swatches
from mothseed.sketch.provenance import Provenance
from mothseed.sketch.seeds import Seed

Key = tuple[str, Seed]
"""The variant and the seed, which identify an edition within its series."""

NOT_KEPT = {"kept": False}
"""Marks a field that has no column in the ledger."""
ARTISTS = {"artists": True}
"""Marks a field that belongs to the artist and survives when the edition is remade."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Edition(Provenance):
    """One edition, made or failed. Each field is a column of the ledger unless marked otherwise. A new field needs a line
    here and an entry in `series/schema.py`, which lists what each version added.
    """

    width: int = 0
    """of the picture, in pixels"""
    milliseconds: float = 0.0
    pixel_hash: str = ""
    file: str = ""
    file_size: int = 0
    """size of its file when it was made; with the next field it shows that the file is unchanged; 0 if not recorded"""
    file_time: int = 0
    """modification time of its file, in nanoseconds since 1970"""
    files: dict[str, str] = field(default_factory=dict)
    """other forms of its picture: the hash of each file, by its path in the series' folder"""
    stamps: dict[str, tuple[int, int]] = field(default_factory=dict)
    """size and time of each of these files, as for the picture"""
    error: str = ""
    measures: dict[str, float] = field(default_factory=dict)
    palette: Swatches = ()
    """the colours in use, each with its share"""
    appearance: bytes = field(default=b"", repr=False)
    """its appearance, much reduced; see `mothseed.measure.appearances`"""
    forms: bytes = field(default=b"", repr=False)
    """signature of the forms it is drawn with; empty if only its picture is known"""
    mark: str = field(default="", metadata=ARTISTS)
    """what the artist thinks of it: keep, drop, maybe, or nothing yet"""
    note: str = field(default="", metadata=ARTISTS)
    troubles: tuple[str, ...] = field(default=(), metadata=NOT_KEPT)
    """what measures of other packages reported instead of a number"""

    @property
    def key(self) -> Key:
        """What tells it from the other editions of its series."""
        return self.variant, self.seed

    @property
    def title(self) -> str:
        """The seed, the variant where it is one of several, the number where it has one."""
        name = f"{self.seed} {self.variant}".rstrip()
        return f"{self.number}  {name}" if self.number else name

    @property
    def failed(self) -> bool:
        """Whether there is a message instead of a picture."""
        return bool(self.error)
