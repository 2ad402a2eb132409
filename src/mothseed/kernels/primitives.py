"""What kernels receive: outlines to turn into polygons, primitives in pixels, what each tile has of them, scratch space."""

from typing import NamedTuple

import numpy as np

from mothseed.arrays import Array1, Array2, Array3, Array4

DISC, POLYGON, SHADOW, OPEN, CLOSE = range(5)
"""Kinds of primitive. A disc with an inner radius is a ring. Whatever lies between OPEN and CLOSE is painted on a tile of its
own, which is then composited.
"""

KIND, BY_MASK, HAS_BOX = 7, 8, 16
"""Traits of a primitive, as bits: its kind; whether its cover becomes a mask, for the group that is closed next or for its own
ramp or picture; whether a box is known that it covers entirely.
"""

NO_SHADE = -1

LINEAR_SHADE, RADIAL_SHADE, PICTURE_SHADE = range(3)
"""Kinds of paint other than a solid colour."""

EDGE, REPEAT, REFLECT, NONE = range(4)
"""What lies beyond the edge of a picture: its edge extended, the picture repeated, its mirror image, nothing. The order is that
of `colour.placed.OUTSIDES`.
"""

PLAIN, ONE_WAY, FREE = range(3)
"""How an outline may overlap itself: not at all; only so that the winding number never changes sign, as in a stroke, where it
is never above 0; in any way.
"""

BUTT_CAP, ROUND_CAP, SQUARE_CAP = range(3)
MITER_JOIN, ROUND_JOIN, BEVEL_JOIN = range(3)


SHAPE_CIRCLE, SHAPE_SQUARE, SHAPE_SEGMENT = range(3)
"""The first of all shapes. The others are outlines."""


class MarkPaint(NamedTuple):
    """What marks are painted with, as arrays of equal length, and what their finishes say of it."""

    finish: Array1[np.uint32]
    even_odd: Array1[np.bool]
    opacity: Array1[np.float64]
    fill: Array2[np.float32]
    """(n, 4): red, green, blue and alpha, and below"""
    stroke: Array2[np.float32]
    blend: Array1[np.uint8]
    """(finishes,): index of the blend mode"""
    has_shadow: Array1[np.bool]
    """(finishes,)"""
    shadow: Array2[np.float64]
    """(finishes, 4): the colour of the shadow"""


class Ops(NamedTuple):
    """The painting order, as arrays of equal length: for each mark its shadow, fill and stroke, with brackets for groups around
    them. They are primitives without a place; fields that are not described are those of `Primitives`.
    """

    kind: Array1[np.uint8]
    source: Array1[np.int64]
    """index of its mark or clip in `Sources`"""
    is_stroke: Array1[np.bool]
    even_odd: Array1[np.bool]
    mask: Array1[np.bool]
    """whether it masks the group that is closed next, rather than being painted"""
    clipped: Array1[np.bool]
    blend: Array1[np.uint8]
    opacity: Array1[np.float32]


class Shades(NamedTuple):
    """Ramps and pictures used as paint, as arrays of equal length, and what they refer to."""

    kind: Array1[np.uint8]
    table: Array1[np.int64]
    """of a ramp: its row of `tables`"""
    tables: Array3[np.float32]
    """(ramps, 257, 4): colours along each, not premultiplied"""
    size: Array2[np.int64]
    """(n, 3): of a picture: its offset in `texels`, and its columns and rows"""
    texels: Array2[np.uint8]
    """(m, 4): pixels of pictures, row by row, one picture after another, not premultiplied"""
    outside: Array1[np.uint8]
    """of a picture: what lies beyond its edge"""
    smooth: Array1[np.bool]
    tint: Array2[np.float32]
    """(n, 4): what a picture's colours are multiplied by"""


class Primitives(NamedTuple):
    """The primitives in painting order, as arrays of equal length, and what they refer to."""

    kind: Array1[np.uint8]
    sources: Array2[np.int64]
    """(n, 2): the first and the last of the `Sources` that it is made of"""
    traits: Array1[np.uint8]
    """its kind, and BY_MASK and HAS_BOX where they apply: in one place, as memory is slower than arithmetic"""
    disc: Array2[np.float64]
    """(n, 4): centre x and y, outer and inner radius"""
    colour: Array2[np.float32]
    """(n, 4): red, green, blue, premultiplied, and alpha; for a ramp or picture, only the opacity counts"""
    even_odd: Array1[np.bool]
    clipped: Array1[np.bool]
    """of a CLOSE: whether masks came before it"""
    blend: Array1[np.uint8]
    """of a CLOSE: index of the blend mode"""
    opacity: Array1[np.float32]
    """of a CLOSE: the opacity of the group"""
    shade: Array1[np.int64]
    """index of its ramp or picture, or NO_SHADE"""
    bounds: Array2[np.float64]
    """(n, 4): left, top, right, bottom"""
    seen: Array2[np.float64]
    """(n, 4): the part of the bounds within all clips around it"""
    covered: Array2[np.float64]
    """(n, 4): a box, left, top, right and bottom, that its fill covers entirely; inverted if none is known"""
    hides: Array1[np.bool]
    """whether it is solid and in no group, so that nothing painted before is visible within that box"""
    edge_spans: Array2[np.int64]
    """(n, 3): where the edges of a polygon begin in `edges`, where those of its stroke begin, and where they end"""
    edges: Array2[np.float64]
    """(m, 4): from x and y to x and y; between those of two primitives there may be unused room"""
    folds: Array1[np.uint8]
    """how a polygon may overlap itself"""
    shade_map: Array2[np.float64]
    """(n, 6): the affine map from pixels to the shade's own coordinates: x from 0 to 1 of a linear ramp, radius 0 to 1 of a
    radial one, pixels of a picture; empty if there is no shade
    """
    shades: Shades
    shadow_place: Array2[np.float64]
    """(n, 3): x and y of the middle of a shadow map's first cell, and the size of cells in pixels; empty if there is no shadow,
    as in the next
    """
    shadow_size: Array2[np.int64]
    """(n, 3): the offset of a shadow map in `shadow_cells`, and its columns and rows"""
    shadow_cells: Array1[np.float32]
    """all shadow maps one after another, row by row: darkness from 0 to 1"""
    depth: int
    """how deeply groups are nested"""


class Bins(NamedTuple):
    """What to paint on each tile, in painting order."""

    first_item: Array1[np.int64]
    """(tiles + 1,): the items of a tile run from its own entry up to the next; tiles run row by row"""
    items: Array1[np.int64]
    """numbers of primitives"""
    edges_of_item: Array2[np.int64]
    """(items, 2): where the edges of a polygon in the tile's row begin and end in `edges`"""
    edges: Array1[np.int64]
    """numbers of edges, grouped by polygon and row of tiles"""


class Shapes(NamedTuple):
    """Outlines one after another, beginning with the unit shapes."""

    verbs: Array1[np.uint8]
    first_verb: Array1[np.int64]
    points: Array2[np.float64]
    first_point: Array1[np.int64]


class Sources(NamedTuple):
    """Sources of polygons: marks, then groups other than the sheet itself, as arrays of equal length."""

    shape: Array1[np.int64]
    matrix: Array2[np.float64]
    """(n, 6): to pixels"""
    width: Array1[np.float64]
    """of the stroke, in pixels"""
    filled: Array1[np.bool]
    linecap: Array1[np.uint8]
    linejoin: Array1[np.uint8]
    dash: Array1[np.int64]
    """number of its dash, 0 for none"""
    frame: Array1[np.uint32]
    """number of its view"""
    axis: Array2[np.float64]
    """(views, 2): the direction of x in a view, for the caps of lines without length"""
    dash_scale: Array1[np.float64]
    """(views,): pixels to the unit of a dash"""
    first_length: Array1[np.int64]
    """(dashes + 1,): where the lengths of each dash begin in `lengths`"""
    lengths: Array1[np.float64]


DONE, MORE_EDGES, MORE_POINTS = range(3)
"""Why drawing edges stopped: it is done, or there is no room for more edges, or for the points of an outline."""


class FlatOutline(NamedTuple):
    """Room for a flattened outline."""

    points: Array2[np.float64]
    turns: Array2[np.float64]
    """(n, 4): unit directions of the curve that ends at a point, and of the one that begins there; 0 to use those of the
    chords
    """
    ways: Array2[np.float64]
    """(n, 5): of each segment of a stroke, the unit directions in which it begins and ends, and its length"""
    middles: Array2[np.float64]
    """(2, n): x and y of the middles of segments, to compare them"""
    heads: Array1[np.int64]
    """(4 n,): the last segment in each cell of the grid"""
    following: Array1[np.int64]
    """(n,): the one before in the same cell"""


class Grid(NamedTuple):
    """Room for a grid of edges, with cells row by row."""

    heads: Array1[np.int64]
    """the first in each cell"""
    following: Array1[np.int64]
    """which comes after each"""
    numbers: Array1[np.int64]
    """numbers of edges"""


class Footprints(NamedTuple):
    """Where the edges of an outline that may overlap itself run on a tile. All 0 between outlines."""

    marks: Array2[np.uint64]
    """(64, 32): for each block, the columns, eight to a pixel, in which edges go up, and in which they go down; those where a
    sum may not be enough; and more than 0 if more than one chain of edges goes up
    """
    busy: Array1[np.uint8]
    """(64,): bit k of a row says that a sum may not be enough in its block k"""
    rises: Array1[np.uint8]
    """(64,): 1 if one chain of edges goes up through a row, more if several do"""


class Areas(NamedTuple):
    """What the edges of a polygon cut from the pixels of a tile. All but `pieces` is 0 between polygons."""

    counts: Array1[np.uint8]
    """(72,): how many pieces of edges were gathered in a row; 3 for more than two, whose areas are in `cells`"""
    pieces: Array1[np.float32]
    """(576,): for each of two pieces in a row, the x of their left and right ends, how far they descend, and how far per pixel
    sideways, both negative where the contour goes up: 72 numbers each
    """
    cells: Array2[np.float32]
    """(65, 80): see `tile_sizes.Cells`"""
    flags: Array1[np.uint8]
    """(64,): bit k of a row is set where an edge adds to its block k in `cells`"""
    totals: Array1[np.float32]
    """(72,): the area left of a row of the tile"""
    footprints: Footprints


class CutRoom(NamedTuple):
    """Room for cutting pixels in which an outline overlaps itself."""

    numbers: Array1[np.int64]
    """numbers of edges, chained by the blocks they run through"""
    following: Array1[np.int64]
    """which comes after each"""
    heads: Array1[np.int64]
    """(512,): the first in each block"""
    pieces: Array2[np.float64]
    """(n, 6): for each piece of an edge in a block, the y of its two ends, from 0 to 1, their x, its change in x per pixel
    down, and 1 if its contour goes down, otherwise -1
    """
    near: Array1[np.int64]
    """(n,): numbers of the pieces that reach a pixel"""
    passes: Array1[np.float64]
    """(n,): the y at which each crosses the pixel's left side, or more than 1"""
    turns: Array1[np.int64]
    """(n,): by how much the winding number on that side increases there"""
    ends: Array2[np.float64]
    """(10, 2): the heights between which each lies in the pixel, if there are no more"""
    cuts: Array1[np.float64]
    """heights at which a pixel is cut into strips"""
    places: Array1[np.float64]
    """(n,): the x at which pieces cross the middle of a strip, from left to right"""
    steps: Array1[np.int64]
    """(n,): by how much the winding number increases there"""


class Room(NamedTuple):
    """Scratch space of a thread that paints. Between tiles, the levels above the first are all 0."""

    tiles: Array4[np.float32]
    """(levels, 64, 4, 72): the picture, each open group, and masks last"""
    areas: Areas
    cut: CutRoom
    cover: Array1[np.float32]
    added: Array1[np.float32]
    """(4,): a colour to lay on the whole tile"""
    below: Array1[np.float32]
    """(3,): channels of a colour, as in the next two"""
    above: Array1[np.float32]
    mixed: Array1[np.float32]
    cell_before: Array1[np.uint64]
    """(64,): the cell of a shadow map before each pixel"""
    beyond_cell: Array1[np.float32]
    """(64,): how far beyond it the pixel lies"""
    line_of_cells: Array1[np.float32]
    paint: Array1[np.float32]
    """(32,): eight reds, eight greens, eight blues, premultiplied, and eight alphas"""
    colour: Array1[np.float32]
    """(4,): of a pixel of a picture"""
    columns: Array1[np.float64]
    """(4,): weights of columns of a picture, and below of rows"""
    rows: Array1[np.float64]


class TileJob(NamedTuple):
    """Some tiles to paint, with everything needed."""

    first: int
    """numbers of tiles, counted row by row"""
    last: int
    top: int
    """the row at which the band begins"""
    primitives: Primitives
    bins: Bins
    paper: Array1[np.float32]
    pixels: Array3[np.uint8]
    bits: int
    grey: bool
    dither: bool
    room: Room
    techniques: Array1[np.int64]
    """addresses of kernels that not every picture needs, by TECHNIQUES; 0 if this one does not"""


TECHNIQUES = ("shading.lay_shade", "shadowing.lay_shadow", "groups.merge_blended", "storing.store_otherwise")


class Window(NamedTuple):
    """The part of a level that is painted on: rows from `top` to `bottom`, blocks of eight pixels from `first` to `last`."""

    level: int
    planes: int
    """the planes: colours, and alpha unless all is opaque"""
    top: int
    bottom: int
    first: int
    last: int
