"""How a picture looks as a whole, in numbers: the table of measures. They are taken from the picture reduced to 192 pixels
across, in OKLab: what one sees from across the room, whatever the resolution.
"""

from __future__ import annotations

from mothseed import doors
from mothseed.arrays import FloatArray
from mothseed.colour.oklch import oklab_from_srgb
from mothseed.colour.value import Colour
from mothseed.faults import ExtensionError
from mothseed.measure.makeup import makeup_of
from mothseed.measure.measure import Measure, Sight
from mothseed.measure.measures.cover import BALANCE_X, BALANCE_Y, COVERAGE, MARGIN
from mothseed.measure.measures.hues import COLOURFULNESS, HUE
from mothseed.measure.measures.tone import CONTRAST, DETAIL, LIGHTNESS, SPREAD, SYMMETRY
from mothseed.sheet import Drawing

_TABLE = (
    COVERAGE, LIGHTNESS, SPREAD, CONTRAST, COLOURFULNESS, HUE, DETAIL, BALANCE_X, BALANCE_Y, SYMMETRY, MARGIN,
)  # fmt: skip
MEASURES = {measure.name: measure.says for measure in _TABLE}
"""Our own measures by name, with what each says."""


def look_of(lab: FloatArray, paper: Colour) -> dict[str, float]:
    """The MEASURES of a reduced picture in OKLab, float64 (rows, columns, 3), on paper of a colour."""
    sight = Sight(lab, paper)
    return {measure.name: round(float(measure.take(sight)), 5) for measure in _TABLE}


def measured(drawing: Drawing, image: FloatArray) -> tuple[dict[str, float], tuple[str, ...]]:
    """Further measures: what a drawing is made of, and other packages' measures of its reduced picture, float64 (rows,
    columns, 3), sRGB from 0 to 1; and messages of those that failed.
    """
    values, troubles = makeup_of(drawing), []
    names = doors.names(doors.MEASURES)
    sight = Sight(oklab_from_srgb(image), drawing.paper) if names else None
    for name in names:
        try:
            values |= _taken(name, sight)
        except ExtensionError as fault:
            troubles.append(fault.message)
    return values, tuple(troubles)


def seen_measures() -> set[str]:
    """The names of all measures of pictures, including those of other packages."""
    found = set(MEASURES)
    for name in doors.names(doors.MEASURES):
        try:
            found.add(doors.opened(doors.MEASURES, name, Measure).name)
        except ExtensionError:
            continue  # reported where it is measured
    return found


def _taken(name: str, sight: Sight | None) -> dict[str, float]:
    measure = doors.opened(doors.MEASURES, name, Measure)
    try:
        assert sight is not None
        return {measure.name: round(float(measure.take(sight)), 5)}
    except Exception as fault:
        package = doors.package_of(doors.MEASURES, name)
        raise ExtensionError(package, f"measure {measure.name} fails: {type(fault).__name__}: {fault}") from fault
