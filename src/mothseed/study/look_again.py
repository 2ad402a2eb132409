"""What a ledger of an earlier version lacks, measured in the pictures."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from mothseed.colour import Colour
from mothseed.faults import PictureError, SeriesError
from mothseed.formats.picture_reading import read_pixels
from mothseed.measure import Seen, reduced, seen
from mothseed.measure.seen import APPEARANCE_BYTES
from mothseed.series.edition import Edition
from mothseed.series.ledger import Ledger
from mothseed.sketch.history import history_in_picture


def with_appearances(folder: Path, editions: Sequence[Edition], done: Callable[[int], None]) -> list[Edition]:
    """Editions that are done, with their appearance; where it is missing it is taken from the picture and recorded. Editions
    may have only the fields that are needed. `done` is called for each picture examined. Editions whose picture is missing or
    damaged are left out.
    """
    known, looks = [], {}
    for edition in editions:
        if edition.failed:
            continue
        if len(edition.appearance) == APPEARANCE_BYTES:
            known.append(edition)
            continue
        path = folder / edition.file
        if path.is_symlink():  # which in a stranger's series could lead anywhere
            done(1)
            continue
        with contextlib.suppress(PictureError):
            history = history_in_picture(path)
            paper = Colour.parse(history.paper) if history else Colour(1.0, 1.0, 1.0)
            looks[edition.key] = seen(reduced(read_pixels(path)), paper)
            known.append(_as_seen(edition, looks[edition.key]))
        done(1)
    if looks:
        # In a read-only folder, or while another run is writing, they are checked again next time. What is recorded has all
        # its fields.
        with contextlib.suppress(SeriesError), Ledger.of(folder) as ledger:
            ledger.add([_as_seen(edition, looks[edition.key]) for edition in ledger.editions([], list(looks))])
    return known


def _as_seen(edition: Edition, sight: Seen) -> Edition:
    """An edition with what was seen in its picture."""
    measures = {**edition.measures, **sight.look}
    return replace(edition, palette=sight.palette, appearance=sight.appearance, measures=measures)
