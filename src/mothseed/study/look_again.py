"""What ledgers of an earlier version did not keep, taken from the pictures."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from mothseed.colour import Colour
from mothseed.faults import PictureError, SeriesError
from mothseed.formats.pillow import read_pixels
from mothseed.measure import reduced, seen
from mothseed.measure.seen import APPEARANCE_BYTES
from mothseed.series import series_editions
from mothseed.series.edition import Edition
from mothseed.series.ledger import Ledger
from mothseed.sketch.history import history_in_picture


def with_appearances(folder: Path, editions: Sequence[Edition], done: Callable[[int], None]) -> list[Edition]:
    """Those editions that are done, each with its appearance; what was missing is taken from its picture, and kept. Of the
    others their fields may be those that are wanted only.

    `done` is told of each picture that is looked at. Editions whose picture is gone or damaged are left out.
    """
    known, taken = [], []
    lacking = [each.key for each in editions if not each.failed and len(each.appearance) != APPEARANCE_BYTES]
    whole = {each.key: each for each in series_editions(folder, [], lacking)} if lacking else {}
    for some in editions:
        if some.failed:
            continue
        if len(some.appearance) == APPEARANCE_BYTES:
            known.append(some)
            continue
        edition = whole.get(some.key, some)
        path = folder / edition.file
        if path.is_symlink():  # which in somebody's series could lead anywhere
            done(1)
            continue
        with contextlib.suppress(PictureError):
            history = history_in_picture(path)
            paper = Colour.parse(history.paper) if history else Colour(1.0, 1.0, 1.0)
            sight = seen(reduced(read_pixels(path)), paper)
            measures = {**edition.measures, **sight.look}
            taken.append(replace(edition, palette=sight.palette, appearance=sight.appearance, measures=measures))
            known.append(taken[-1])
        done(1)
    if taken:
        # Where nobody may write, or another run does, they are looked at again the next time.
        with contextlib.suppress(SeriesError), Ledger.of(folder) as ledger:
            ledger.add(taken)
    return known
