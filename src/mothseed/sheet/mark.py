"""One mark as plain numbers, for what writes marks one by one."""

from __future__ import annotations

from typing import NamedTuple

from mothseed.arrays import RecordArray
from mothseed.sheet.kinds import KINDS
from mothseed.sheet.record import MARK, packer
from mothseed.sheet.style import EVEN_ODD, FILLED, STROKED


class Mark(NamedTuple):
    """The fields of a record. A field of the record itself takes as long to read as all of these."""

    place: tuple[float, float, float, float]
    view: int
    outline: int
    group: int
    kind: int
    linecap: int
    linejoin: int
    painted: int
    fill: tuple[float, float, float, float]
    stroke: tuple[float, float, float, float]
    stroke_width: float
    opacity: float
    finish: int

    @property
    def is_filled(self) -> bool:
        """Whether it has a fill that can be seen."""
        return bool(self.painted & FILLED) and KINDS[self.kind].has_inside

    @property
    def is_stroked(self) -> bool:
        """Whether it has a stroke that can be seen."""
        return bool(self.painted & STROKED) and self.stroke_width > 0

    @property
    def is_seen(self) -> bool:
        """Whether it has a fill or a stroke that can be seen."""
        return self.is_filled or self.is_stroked

    @property
    def is_even_odd(self) -> bool:
        """Whether its inside follows from the even-odd rule."""
        return bool(self.painted & EVEN_ODD)


assert Mark._fields == MARK.names
_RECORD = packer(Mark._fields)


def mark_at(records: RecordArray, number: int) -> Mark:
    """One of the records MARK (n,)."""
    x, y, u, v, view, outline, group, kind, cap, join, painted, r, g, b, a, sr, sg, sb, sa, width, opacity, finish = (
        _RECORD.unpack_from(records, number * MARK.itemsize)  # type: ignore[arg-type]
    )
    fill, stroke = (r, g, b, a), (sr, sg, sb, sa)
    return Mark((x, y, u, v), view, outline, group, kind, cap, join, painted, fill, stroke, width, opacity, finish)
