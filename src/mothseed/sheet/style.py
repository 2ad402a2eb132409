"""Paint as a value: what a shape is filled and stroked with."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from typing import Any, NamedTuple, TypedDict, Unpack

from mothseed.arrays import BoolArray, RecordArray
from mothseed.colour.placed import Picture
from mothseed.colour.ramp import Ramp
from mothseed.colour.value import Colour, as_colour
from mothseed.faults import SketchError
from mothseed.sheet.blends import BLENDS
from mothseed.sheet.finish import SHADES, Finish, Shadow, checked_dash, is_none
from mothseed.sheet.kinds import HAS_INSIDE
from mothseed.sheet.record import TAIL, packer, tail_place
from mothseed.told import told
from mothseed.values import fixed

LINECAPS = ("butt", "round", "square")
LINEJOINS = ("miter", "round", "bevel")
FILL_RULES = ("nonzero", "evenodd")

FILLED, STROKED, EVEN_ODD = 1, 2, 4
"""Flags of a mark's `painted`."""

_NO_COLOUR = (0.0, 0.0, 0.0, 0.0)
_pack_style = packer(TAIL).pack
_colour = packer(("fill",))
pack_colour, _put_colour = _colour.pack, _colour.pack_into
_put_number = packer(("opacity",)).pack_into
_CAP_PLACE, _JOIN_PLACE, _PAINTED_PLACE, _FILL_PLACE, _STROKE_PLACE, _WIDTH_PLACE, _OPACITY_PLACE = map(
    tail_place, ("linecap", "linejoin", "painted", "fill", "stroke", "stroke_width", "opacity")
)
"""Where each paint lies in a packed style."""


def filled_marks(marks: RecordArray) -> BoolArray:
    """Which marks, MARK (n,), have a fill that can be seen: bool (n,)."""
    result: BoolArray = ((marks["painted"] & FILLED) != 0) & HAS_INSIDE[marks["kind"]]
    return result


class Paint(TypedDict, total=False):
    """The paint keywords that every shape takes; what is left out is that of the view it is drawn on."""

    fill: Colour | Ramp | Picture | str | None
    stroke: Colour | Ramp | Picture | str | None
    stroke_width: float
    opacity: float
    linecap: str
    linejoin: str
    fill_rule: str
    dash: tuple[float, ...] | None
    blend: str
    shadow: Shadow | None


@fixed('make another: style.but({"fill": "teal"}), or sheet.styled(fill="teal")')
class Style(NamedTuple):
    """A whole set of paint. The defaults are those of SVG."""

    fill: Colour | Ramp | Picture | None = Colour(0.0, 0.0, 0.0)
    stroke: Colour | Ramp | Picture | None = None
    stroke_width: float = 1.0
    opacity: float = 1.0
    linecap: str = "butt"
    linejoin: str = "miter"
    fill_rule: str = "nonzero"
    dash: tuple[float, ...] | None = None
    blend: str = "normal"
    shadow: Shadow | None = None

    @classmethod
    def of(cls, **paint: Unpack[Paint]) -> Style:
        """A style to name and share: `ink = Style.of(fill=None, stroke="#22203a", stroke_width=0.4)`."""
        return cls().but(paint)

    def but(self, paint: Mapping[str, Any]) -> Style:
        """The same style with some of its paint changed.

        Raises SketchError for a name that is no paint and a value that cannot be painted with, in words that name both.
        """
        return self._replace(**{_SPELLED.get(name, name): _checked(name, value) for name, value in paint.items()})

    @property
    def finish(self) -> Finish:
        """The rare part of it."""
        fill = None if isinstance(self.fill, Colour) else self.fill
        stroke = None if isinstance(self.stroke, Colour) else self.stroke
        return Finish(fill, stroke, self.dash, self.blend, self.shadow)

    def packed(self, finish: int) -> bytes:
        """The style as the tail of a mark's record, see `MARK`, with its finish under the given number."""
        painted = (FILLED if self.fill is not None else 0) | (STROKED if self.stroke is not None else 0)
        return _pack_style(
            LINECAPS.index(self.linecap),
            LINEJOINS.index(self.linejoin),
            painted | (EVEN_ODD if self.fill_rule == "evenodd" else 0),
            *(self.fill if isinstance(self.fill, Colour) else _NO_COLOUR),
            *(self.stroke if isinstance(self.stroke, Colour) else _NO_COLOUR),
            self.stroke_width,
            self.opacity,
            finish,
        )


def around_colours(packed: bytes) -> dict[str, tuple[bytes, bytes]]:
    """What comes before and after the colour in a packed style that gets a plain colour for its fill, or for its stroke."""
    around = {}
    for name, flag, place in (("fill", FILLED, _FILL_PLACE), ("stroke", STROKED, _STROKE_PLACE)):
        record = bytearray(packed)
        record[_PAINTED_PLACE] |= flag
        around[name] = bytes(record[:place]), bytes(record[place + _colour.size :])
    return around


def repainted(packed: bytes, paint: Mapping[str, Any]) -> bytearray | None:
    """A packed style with some of its paint changed, as `Style.but` would change it.

    Every shape with paint of its own comes through here: it patches the record, makes no style in between, and looks closely
    only at what is not of the plainest kind. None where the paint has a finish, which only the recorder can number.
    """
    record = bytearray(packed)
    try:
        for name, value in paint.items():
            if name in {"fill", "stroke"}:
                flag, place = (FILLED, _FILL_PLACE) if name == "fill" else (STROKED, _STROKE_PLACE)
                if value is None or (type(value) is str and value == "none"):
                    record[_PAINTED_PLACE] &= ~flag
                elif type(value) in SHADES:
                    return None
                else:
                    record[_PAINTED_PLACE] |= flag
                    if type(value) is tuple and len(value) == 4:
                        red, green, blue, alpha = value
                        if not (0 <= red <= 1 and 0 <= green <= 1 and 0 <= blue <= 1 and 0 <= alpha <= 1):
                            as_colour(value)  # reports what is wrong with it
                        _put_colour(record, place, red, green, blue, alpha)
                    else:
                        _put_colour(record, place, *(value if type(value) is Colour else as_colour(value)))
            elif name == "stroke_width":
                plain = type(value) is float and 0 <= value < math.inf
                _put_number(record, _WIDTH_PLACE, value if plain else _checked(name, value))
            elif name == "opacity":
                plain = type(value) is float and 0 <= value <= 1
                _put_number(record, _OPACITY_PLACE, value if plain else _checked(name, value))
            elif name == "linecap":
                record[_CAP_PLACE] = LINECAPS.index(_checked(name, value))
            elif name == "linejoin":
                record[_JOIN_PLACE] = LINEJOINS.index(_checked(name, value))
            else:
                _checked(name, value)
                return None
    except SketchError:
        _checked(name, value)  # reports a colour by the name of its paint
        raise
    return record


PAINT_NAMES = Style._fields
_SPELLED = {"stroke_linecap": "linecap", "stroke_linejoin": "linejoin", "stroke_dasharray": "dash"}
"""The names that SVG has for paint which has a shorter one here."""


def _checked(name: str, value: object) -> Any:
    match _SPELLED.get(name, name):
        case "fill" | "stroke":
            if is_none(value):
                return None
            try:
                return value if isinstance(value, SHADES) else as_colour(value)
            except SketchError as fault:
                raise SketchError(f"{name}: {fault.message}", hint=fault.hint) from None
        case "stroke_width":
            if not (_is_number(value) and 0 <= value < math.inf):  # type: ignore[operator]
                raise SketchError(f"stroke_width must be a length in sheet units, 0 or more (got {value!r})")
            return float(value)  # type: ignore[arg-type]
        case "opacity":
            if isinstance(value, str) and _PERCENT.fullmatch(value):
                value = float(value[:-1]) / 100
            if not (_is_number(value) and 0 <= value <= 1):  # type: ignore[operator]
                raise SketchError(f"opacity must be a number from 0 (not seen) to 1 (solid) (got {value!r})")
            return float(value)  # type: ignore[arg-type]
        case "linecap":
            return _one_of(name, value, LINECAPS)
        case "linejoin":
            return _one_of(name, value, LINEJOINS)
        case "fill_rule":
            return _one_of(name, value.replace("-", "") if isinstance(value, str) else value, FILL_RULES)
        case "dash":
            return checked_dash(value)
        case "blend":
            return _one_of(name, value, BLENDS)
        case "shadow":
            if value is None or isinstance(value, Shadow):
                return value
            raise SketchError(f"shadow is a soft_shadow or None (got {value!r})", hint="write shadow=soft_shadow(2, 3)")
    raise SketchError(f"{name}= is not a paint; paints are {', '.join(PAINT_NAMES)}", hint=_hint_for(name, value))


_MEANT = {
    **dict.fromkeys(
        ("rotate", "rotation", "angle", "turn", "heading"), "draw it on a turned frame: frame(50, 40, turn={value})"
    ),
    "scale": "draw it on a scaled frame: frame(50, 40, scale={value})",
    **dict.fromkeys(("alpha", "transparency"), "write opacity={value}"),
    **dict.fromkeys(
        ("width", "thickness", "weight", "line_width", "linewidth", "lw", "strokewidth"), "write stroke_width={value}"
    ),
    **dict.fromkeys(("cap", "capstyle", "line_cap"), "write linecap={value}"),
    **dict.fromkeys(("join", "joinstyle", "line_join"), "write linejoin={value}"),
    **dict.fromkeys(("color", "colour", "fill_color", "fillcolor", "facecolor", "background"), "write fill={value}"),
    **dict.fromkeys(("outline", "border", "edgecolor", "line_color", "stroke_color"), "write stroke={value}"),
    **dict.fromkeys(("mix_blend_mode", "blend_mode", "mode"), "write blend={value}"),
    **dict.fromkeys(("rx", "ry", "border_radius", "corner_radius"), "a rectangle has radius={value} at all corners"),
    **dict.fromkeys(("clip", "mask", "clip_path"), "draw it on a clipped view: clipped(outline)"),
    **dict.fromkeys(("gradient", "ramp"), 'write fill=linear_ramp((0, 0), (0, 80), ["navy", "teal"])'),
    **dict.fromkeys(("blur", "filter"), "a soft edge is a shadow=soft_shadow(0, 3)"),
    **dict.fromkeys(
        ("miter_limit", "miterlimit", "stroke_miterlimit"),
        'miters end at 4 times the width, as in SVG: linejoin="round" has none',
    ),
    "closed": "a polyline that is closed is a polygon(points)",
    "along": 'words follow an outline as path(lettering("owlet", 6, along=outline))',
}
"""What is meant by names that are given for paint and are none."""


def _hint_for(name: str, value: object) -> str:
    import difflib

    if name in _MEANT:
        written = told(value) if _is_number(value) else f'"{told(value)}"' if isinstance(value, str | Colour) else "..."
        return _MEANT[name].format(value=written)
    near = difflib.get_close_matches(name, PAINT_NAMES, 1)
    return f"did you mean {near[0]}=?" if near else ""


_PERCENT = re.compile(r"\d+(\.\d+)?%")


def _is_number(value: object) -> bool:
    return hasattr(value, "__float__") and getattr(value, "ndim", 0) == 0


def _one_of(name: str, value: object, choices: tuple[str, ...]) -> object:
    if value not in choices:
        raise SketchError(f"{name} must be one of {', '.join(choices)} (got {value!r})", hint=f'write {name}="{choices[1]}"')
    return value
