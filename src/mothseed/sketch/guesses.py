"""First guesses: words from Python's random, NumPy, SVG and CSS, and what to write here instead.

A guess is looked up by its word, not by similar spelling: `choice` means `pick`, however much it looks like `chosen`. The
advice uses the values of the artist's own line wherever they can be read.
"""

from __future__ import annotations

import ast
import re
from collections.abc import Callable, Iterable, Iterator
from typing import NamedTuple


class Guess(NamedTuple):
    """A word, and what to write instead."""

    word: str
    values: dict[str, str]
    """its arguments in order, with what to write for those that cannot be read"""
    instead: str
    """a template with {of} for the object and the names of values"""
    then: str
    """a further remark"""

    def written(self, of: str, given: Iterable[str], named: dict[str, str]) -> str:
        """What to write, with the given values filled in where possible."""
        values = self.values | dict(zip(self.values, given, strict=False))
        values |= {name: value for name, value in named.items() if name in values}
        code = self.instead.format(of=of, **values)
        return f"{f'write {code}' if code else ''}{self.then.format(of=of)}"


_DRAW_ON = ", and draw on what it gives"
_SQUARE = "x=10, y=10, size=20"
_ROUND = "x=50, y=50, radius=20"
_IMPORT = ", after: from mothseed import "

_QUARTERS = "lambda cell: (2, 2) if cell.depth < 3 else None"

_OF_VIEWS = (
    ("rotate rotated", "angle=30", "{of}.frame(turn={angle})", _DRAW_ON),
    ("translate translated move moved shift", "x=10, y=20", "{of}.frame({x}, {y})", _DRAW_ON),
    ("scale scaled zoom", "factor=2", "{of}.frame(scale={factor})", _DRAW_ON),
    ("skew skewX skew_x shear", "angle=20", "{of}.frame(skew={angle})", _DRAW_ON),
    ("transform matrix", "", "{of}.frame(10, 20, turn=30, scale=2)", _DRAW_ON),
    ("reflect reflected flip mirror", "", "{of}.mirrored()", _DRAW_ON),
    ("margin margins padding border", "amount=10", "{of}.inset({amount})", _DRAW_ON),
    ("clip mask crop", "outline=star(5, 20, 8)", "{of}.clipped({outline})", _DRAW_ON),
    ("group g", 'name="wings"', "{of}.layer({name})", _DRAW_ON),
    ("repeat tile tiles cells columns", "", "for cell in {of}.grid(5, 8)", ", and draw on each cell"),
    ("fill", 'paint="teal"', "{of}.styled(fill={paint})", _DRAW_ON),
    ("stroke", 'paint="teal"', "{of}.styled(stroke={paint})", _DRAW_ON),
    ("stroke_width strokeWidth line_width linewidth", "width=2", "{of}.styled(stroke_width={width})", _DRAW_ON),
    ("opacity alpha", "amount=0.5", "{of}.styled(opacity={amount})", _DRAW_ON),
    ("dash dashed stroke_dasharray", "", "{of}.styled(dash=(4, 2))", _DRAW_ON),
    ("shadow drop_shadow box_shadow", "", "{of}.styled(shadow=soft_shadow(2, 3))", _DRAW_ON + _IMPORT + "soft_shadow"),
    ("gradient linear_gradient linearGradient", "", '{of}.styled(fill=linear_ramp((0, 0), (0, 80), ["navy", "teal"]))',
     _DRAW_ON + _IMPORT + "linear_ramp"),
    ("radial_gradient radialGradient", "", '{of}.styled(fill=radial_ramp((50, 50), 40, ["navy", "teal"]))',
     _DRAW_ON + _IMPORT + "radial_ramp"),
    ("rectangle box", "x=10, y=10, width=30, height=20", "{of}.rect({x}, {y}, {width}, {height})", ""),
    ("square", _SQUARE, "{of}.rect({x}, {y}, {size}, {size})", ""),
    ("triangle", "x1=10, y1=30, x2=30, y2=30, x3=20, y3=10", "{of}.polygon([({x1}, {y1}), ({x2}, {y2}), ({x3}, {y3})])", ""),
    ("pentagon", _ROUND, "{of}.ngon({x}, {y}, 5, {radius})", ""),
    ("hexagon", _ROUND, "{of}.ngon({x}, {y}, 6, {radius})", ""),
    ("octagon", _ROUND, "{of}.ngon({x}, {y}, 8, {radius})", ""),
    ("disc disk", _ROUND, "{of}.circle({x}, {y}, {radius})", ""),
    ("oval", "x=50, y=50, x_radius=30, y_radius=20", "{of}.ellipse({x}, {y}, {x_radius}, {y_radius})", ""),
    ("point pixel", "x=50, y=50", '{of}.dot({x}, {y}, stroke="teal")', ""),
    ("points pixels", "x=[10, 20], y=[30, 40]", '{of}.dots({x}, {y}, stroke="teal")', ""),
    ("curve spline bezier", "points=[(10, 60), (50, 20), (90, 60)]", "{of}.path(smooth({points}))", _IMPORT + "smooth"),
    ("write label string caption", 'x=10, y=50, words="Plume", size=8', "{of}.text({x}, {y}, {words}, {size})", ""),
    ("image img", 'path="photo.png"', "picture = {of}.picture({path})", ", and paint with it: fill=picture"),
    ("centre center middle", "", "{of}.centred()", _DRAW_ON + "; its place is {of}.across(0.5), {of}.down(0.5)"),
    ("size bounds extent dimensions shape", "", "{of}.width and {of}.height", ""),
    ("right", "", "{of}.left + {of}.width", ""),
    ("bottom", "", "{of}.top + {of}.height", ""),
    ("background", 'paint="#f4efe4"', "@artwork(paper={paint})", " above the function"),
    ("random uniform", "low=0, high=1", "chance.between({low}, {high})", ""),
    ("split divide subdivide quadtree treemap partition", "", "for cell in {of}.subdivided(" + _QUARTERS + ")",
     ", and draw on each cell"),
    ("triangulate triangulated triangulation mesh", "", "for cell in {of}.delaunay({of}.scatter(60, chance))",
     ", and draw each: cell.path(cell.outline)"),
    ("relax relaxed lloyd stipple", "", "{of}.scatter(400, chance, relaxed=20)", ""),
    ("isolines isobands contour", "surface=chance.field(30), level=0.2", "{of}.path({of}.contours({surface}, {level}))", ""),
    ("paragraph textbox text_box wrapped wrap", "", '{of}.text(10, 50, "many words", 6, width=60)', ""),
    ("marker arrow arrows", "", "{of}.markers({of}.symbol(lambda view: view.circle(0, 0, 1)), outline)", ""),
    ("cube cuboid isometric block", "", "top, front, side = {of}.faces(20, 20, 30)", _DRAW_ON),
    ("hatch hatched", "outline=star(5, 20, 8), spacing=2", "{of}.path({outline}.hatched({spacing}))", ""),
    ("save export show", "", "", "mothseed proof draws what the function drew"),
)  # fmt: skip
_OF_CHANCE = (
    ("choice", 'items=["teal", "navy"]', "{of}.pick({items})", ""),
    ("choices", 'items=["teal", "navy"], weights=None, k=1', "{of}.pick({items}, weights={weights}, size={k})", ""),
    ("sample", 'items=["teal", "navy"], k=2', "{of}.several({items}, {k})", ""),
    ("random rand random_sample", "", "{of}.between(0, 1)", ""),
    ("uniform", "low=0, high=1", "{of}.between({low}, {high})", ""),
    ("randint", "a=1, b=6", "{of}.whole({a}, {b})", ""),
    ("integers randrange", "low=0, high=10", "{of}.whole({low}, {high} - 1)", ""),
    ("gauss normal normalvariate", "mu=0, sigma=1", "{of}.bell({mu}, {sigma})", ""),
    ("standard_normal randn", "", "{of}.bell(0, 1)", ""),
    ("exponential expovariate lognormal pareto beta betavariate power", "", "{of}.skewed(0, 1, 3)",
     ": from 0 to 1, most of them low"),
    ("shuffle permutation permuted", 'items=["teal", "navy"]', "{of}.shuffled({items})", ", which gives a new list"),
    ("bool boolean coin probability bernoulli binomial", "", "{of}.odds(0.5)", ""),
    ("angle heading rotation degrees", "", "{of}.turn()", ""),
    ("noise simplex", "", "{of}.field(30).at(50, 50)", ""),
    ("position place location xy", "", "{of}.point(sheet)", ""),
    ("seed", "", "", "the seed is chosen when mothseed proof draws it; {of}(\"wings\") has draws of its own"),
)  # fmt: skip
_OF_PICTURES = (
    ("pixel getpixel get_pixel get sample color colour", "x=50, y=50", "{of}.at({x}, {y})", ""),
    ("brightness luminance gray grey value", "x=50, y=50", "{of}.lightness({x}, {y})", ""),
    ("mean", "x=50, y=50, radius=5", "{of}.average({x}, {y}, {radius})", ""),
    ("palette colors colours", "", 'Palette.from_picture("photo.png")', _IMPORT + "Palette"),
    ("gradient", "x=50, y=50", "{of}.uphill({x}, {y})", ""),
    ("shape", "", "{of}.size", ""),
    ("width height bounds", "", "left, top, width, height = {of}.area", ""),
    ("crop part slice", "left=10, top=10, width=40, height=30", "{of}.cropped({left}, {top}, {width}, {height})", ""),
    ("curve curves levels tone contrast brighten", "", "{of}.toned([(0, 0), (0.5, 0.7), (1, 1)])", ""),
    ("split pieces grid", "cols=4, rows=3", "{of}.tiles({cols}, {rows})", ""),
    ("contour isolines", "level=0.5", "sheet.contours({of}, {level})", ""),
)  # fmt: skip
_OF_PALETTES = (
    ("colors colours list", "", "{of}.swatches", ""),
    ("random choice sample", "", "{of}.pick(chance)", ""),
    ("get item", "index=0", "{of}[{index}]", ""),
    ("next", "index=3", "{of}.cycle({index})", ""),
    ("mix lerp interpolate gradient", "fraction=0.5", "{of}.ramp({fraction})", ""),
    ("reverse reversed", "", "{of}.sorted(descending=True)", ""),
    ("closest match quantize snap", 'colour="teal"', "{of}.nearest({colour})", ""),
    ("simulate colorblind colourblind", "", '{of}.seen_with("deuteranopia")', ""),
    ("multiply overprint", "", 'Palette.overprinted(["#d9715b", "#14213d"])', _IMPORT + "Palette"),
    ("from_image from_file extract", 'path="photo.png"', "Palette.from_picture({path})", ""),
)  # fmt: skip
_OF_COLOURS = (
    ("r", "", "{of}.red", ""),
    ("g", "", "{of}.green", ""),
    ("b", "", "{of}.blue", ""),
    ("a opacity", "", "{of}.alpha", ""),
    ("rgb", "", "{of}.red, {of}.green, {of}.blue", ""),
    ("hex", "", "{of}.css", ""),
    ("lighten lighter brighten", "amount=0.2", 'mixed({of}, "white", {amount})', _IMPORT + "mixed"),
    ("darken darker", "amount=0.2", 'mixed({of}, "black", {amount})', _IMPORT + "mixed"),
    ("mix lerp blend interpolate", 'other="white", fraction=0.5', "mixed({of}, {other}, {fraction})", _IMPORT + "mixed"),
    ("with_alpha fade transparent", "alpha=0.5", "{of}.faded({alpha})", ""),
)  # fmt: skip

_OTHER = "other=Outline.circle(50, 50, 20)"
_OF_OUTLINES = (
    ("rotate rotated", "angle=30", "{of}.turned({angle})", ""),
    ("translate translated move shift shifted offset", "x=10, y=20", "{of}.moved({x}, {y})", ""),
    ("scale resize resized zoom", "factor=2", "{of}.scaled({factor})", ""),
    ("mirror flip flipped reflect reflected", "", "{of}.mirrored()", ""),
    ("transform matrix", "", "{of}.turned(30).scaled(2).moved(10, 20)", ""),
    ("buffer buffered inflate inflated expand expanded outset", "distance=2", "{of}.grown({distance})", ""),
    ("shrink shrunk deflate inset", "distance=2", "{of}.grown(-{distance})", ""),
    ("intersect intersected clip clipped", _OTHER, "{of}.intersection({other})", ""),
    ("subtract subtracted minus cut erase", _OTHER, "{of}.difference({other})", ""),
    ("xor symmetric_difference exclude", _OTHER, "{of}.exclusion({other})", ""),
    ("add unite merge merged combine combined", _OTHER, "{of}.union({other})", ""),
    ("append concat concatenate extend", _OTHER, "{of}.joined({other})", ""),
    ("point_at point interpolate get_point getPointAtLength position", "fraction=0.5", "{of}.at({fraction})", ""),
    ("segment substring slice trim trimmed between", "start=0, end=0.5", "{of}.part({start}, {end})", ""),
    ("bbox bounding_box extent extents size", "", "{of}.bounds", ""),
    ("width", "", "{of}.bounds.width", ""),
    ("height", "", "{of}.bounds.height", ""),
    ("centre center middle centroid", "", "{of}.bounds.centre", ""),
    ("perimeter arc_length total_length getTotalLength", "", "{of}.length", ""),
    ("vertices nodes vertex", "", "{of}.corners", ""),
    ("hatch hatching fill_lines", "spacing=2, angle=45", "{of}.hatched({spacing}, {angle})", ", and draw it with a stroke"),
    ("swell taper tapered brush", "widths=[0, 2, 0]", "{of}.swelled({widths})", ", and draw it with a fill"),
    ("reverse", "", "{of}.reversed()", ""),
    ("simplify", "tolerance=0.5", "{of}.simplified({tolerance})", ""),
    ("inside includes hit is_inside", "x=50, y=50", "{of}.contains({x}, {y})", ""),
    ("closest closest_point project", "x=50, y=50", "{of}.nearest({x}, {y})", ""),
    ("outline path", "", "sheet.path({of})", ", and no more: it is an outline"),
    ("from_path from_d from_string parse", 'data="M 0 0 L 20 0 L 10 15 z"', "{of}.from_svg({data})", ""),
    ("from_points", "points=[(0, 0), (20, 0), (10, 15)]", "{of}.polygon({points})", ""),
    ("square", "x=10, y=10, size=20", "{of}.rect({x}, {y}, {size}, {size})", ""),
    ("line", "x1=0, y1=0, x2=20, y2=10", "{of}.polyline([({x1}, {y1}), ({x2}, {y2})])", ""),
)  # fmt: skip

_VALUE = re.compile(r"(\w+)=(.*?)(?=, \w+=|$)")


def _guesses(table: Iterable[tuple[str, str, str, str]]) -> dict[str, Guess]:
    return {
        word: Guess(word, dict(_VALUE.findall(values)), instead, then)
        for words, values, instead, then in table
        for word in words.split()
    }


GUESSES = {
    "View": _guesses(_OF_VIEWS),
    "Chance": _guesses(_OF_CHANCE),
    "Picture": _guesses(_OF_PICTURES),
    "Palette": _guesses(_OF_PALETTES),
    "Colour": _guesses(_OF_COLOURS),
    "Outline": _guesses(_OF_OUTLINES),
}
"""By the class that is asked for the word, and the word."""
USUAL = {
    "View": "sheet",
    "Chance": "chance",
    "Picture": "picture",
    "Palette": "palette",
    "Colour": "colour",
    "Outline": "outline",
}
"""Usual names of values, for lines that cannot be read."""


def guess_on(kind: type, word: str, line: str) -> str:
    """What to write instead of an attribute that a class lacks; empty if unknown."""
    for base in kind.__mro__:
        guess = GUESSES.get(base.__name__, {}).get(word)
        if guess:
            return _written(guess, USUAL[base.__name__], line)
    return ""


def guess_alone(word: str, line: str) -> str:
    """What to write instead of an undefined name: something that chance or the sheet can do."""
    for kind in ("Chance", "View"):
        guess = GUESSES[kind].get(word)
        if guess:
            return _written(guess, USUAL[kind], line)
    return ""


def _written(guess: Guess, usual: str, line: str) -> str:
    for of, call in sorted(_asked(line, guess.word), key=lambda asked: asked[1] is None):
        if call is None or any(isinstance(each, ast.Starred) for each in call.args):
            return guess.written(of or usual, [], {})
        given = [_text(each) for each in call.args]
        if guess.word in _UP_TO and len(given) == 1:
            given.insert(0, "0")
        return guess.written(of or usual, given, {each.arg: _text(each.value) for each in call.keywords if each.arg})
    return guess.written(usual, [], {})


_UP_TO = {"integers", "randrange"}
"""Words whose range starts at 0 when given one number."""


def as_method(line: str, instead: str, is_meant: Callable[[str], bool]) -> str:
    """A call or index in a line, `hills(3, 4)` or `photo[3, 4]`, rewritten with a method: `hills.at(3, 4)`. `is_meant` says
    whether a name is the one that cannot be called or indexed.
    """
    for node in _nodes(line):
        if not isinstance(node, ast.Call | ast.Subscript):
            continue
        asked = node.func if isinstance(node, ast.Call) else node.value
        if isinstance(asked, ast.Call) or (isinstance(asked, ast.Name) and is_meant(asked.id)):
            index = [node.slice] if isinstance(node, ast.Subscript) else node.args
            parts = index[0].elts if len(index) == 1 and isinstance(index[0], ast.Tuple) else index
            return f"{_text(asked)}.{instead}({', '.join(_text(each) for each in parts)})"
    return ""


def _asked(line: str, word: str) -> Iterator[tuple[str, ast.Call | None]]:
    """The object of an attribute in a line, as written, and the call; empty for a plain name."""
    for node in _nodes(line):
        call = node if isinstance(node, ast.Call) else None
        function = call.func if call else node
        if isinstance(function, ast.Attribute) and function.attr == word:
            yield _text(function.value), call
        elif isinstance(function, ast.Name) and function.id == word:
            yield "", call


def called_values(line: str) -> Iterator[tuple[str, str]]:
    """Method calls in a line: the text without arguments, and the method's name."""
    for node in _nodes(line):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute):
            yield _text(node.func), node.func.attr


def calls_of(line: str, word: str) -> list[str]:
    """The calls of a plain name, as written."""
    return [_text(call) for of, call in _asked(line, word) if call and not of]


def _text(node: ast.AST) -> str:
    """A part of a line as the artist wrote it."""
    return str(getattr(node, "text", "")) or ast.unparse(node)


def _nodes(line: str) -> list[ast.AST]:
    """The nodes of a line of Python, outermost first, with their `text`; none if the line is not complete by itself."""
    for text in (line, f"{line} pass", f"if True:\n pass\n{line} pass"):
        try:
            tree = ast.parse(text)
        except (SyntaxError, ValueError):
            continue
        nodes = list(ast.walk(tree))
        for node in nodes:
            node.text = ast.get_source_segment(text, node) if hasattr(node, "lineno") else ""  # type: ignore[attr-defined]
        return nodes
    return []
