"""An edition: one picture of a series as the ledger keeps it."""

from __future__ import annotations

from dataclasses import dataclass, field

from mothseed.measure import Swatches
from mothseed.sketch.history import Provenance
from mothseed.sketch.seeds import Seed

Key = tuple[str, Seed]
"""The variant and the seed: what tells an edition from the others of its series."""

NOT_KEPT = {"kept": False}
"""Marks a field that has no column in the ledger."""
ARTISTS = {"artists": True}
"""Marks a field that is the artist's, and stays when the edition is made again."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Edition(Provenance):
    """One made edition, or one that failed.

    Each field is a column of the ledger, unless it says otherwise. A new one needs a line here, and a row in
    `series/schema.py`, the list of what each version added.
    """

    width: int = 0
    """of the picture, in pixels"""
    milliseconds: float = 0.0
    pixel_hash: str = ""
    file: str = ""
    file_size: int = 0
    """size of its file when it was made, and with the next the sign that it is still that one; 0 where it was not kept"""
    file_time: int = 0
    """nanoseconds since 1970 at which its file was last written, as the file system has it"""
    files: dict[str, str] = field(default_factory=dict)
    """other forms of its picture: the hash of each file, by its path in the series' folder"""
    stamps: dict[str, tuple[int, int]] = field(default_factory=dict)
    """size and time of each of these files, as those of its picture are kept"""
    error: str = ""
    measures: dict[str, float] = field(default_factory=dict)
    palette: Swatches = ()
    """the colours in use, each with its share"""
    appearance: bytes = field(default=b"", repr=False)
    """what it looks like, kept small; see `mothseed.measure.appearances`"""
    forms: bytes = field(default=b"", repr=False)
    """signature of the forms that it is drawn with; empty where only its picture is known"""
    mark: str = field(default="", metadata=ARTISTS)
    """what the artist thinks of it: keep, drop, maybe, or nothing yet"""
    note: str = field(default="", metadata=ARTISTS)
    troubles: tuple[str, ...] = field(default=(), metadata=NOT_KEPT)
    """what other packages' measures had to say instead of a number"""

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
