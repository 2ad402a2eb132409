"""What kernels are handed: outlines to be made polygons, primitives in pixels, what each tile has of them, room to work in."""

from typing import NamedTuple

import numpy as np

from mothseed.arrays import Array1, Array2, Array3, Array4

DISC, POLYGON, SHADOW, OPEN, CLOSE = range(5)
"""Kinds of primitive. A disc with an inner radius is a ring. What lies between OPEN and CLOSE is painted on a tile of its own,
which is then laid on at once."""

NO_SHADE = -1

LINEAR_SHADE, RADIAL_SHADE, PICTURE_SHADE = range(3)
"""Kinds of paint that is not one colour."""

EDGE, REPEAT, REFLECT, NONE = range(4)
"""What lies beyond the edge of a picture: its last pixels, the picture again, its mirror image, nothing."""

PLAIN, ONE_WAY, FREE = range(3)
"""How an outline may lie over itself: not at all; so that the winding number never changes its sign, as that of a stroke,
which is never above 0; in any way."""

BUTT_CAP, ROUND_CAP, SQUARE_CAP = range(3)
MITER_JOIN, ROUND_JOIN, BEVEL_JOIN = range(3)


class Shades(NamedTuple):
    """Ramps and pictures that are painted with, as arrays of equal length, and what they refer to."""

    kind: Array1[np.uint8]
    table: Array1[np.int64]
    """of a ramp: its row of `tables`"""
    tables: Array3[np.float32]
    """(ramps, 257, 4): colours along each, not premultiplied"""
    size: Array2[np.int64]
    """(n, 3): of a picture: where it begins in `texels`, and its columns and rows"""
    texels: Array2[np.uint8]
    """(m, 4): pixels of pictures, row by row, one picture after the other, not premultiplied"""
    outside: Array1[np.uint8]
    """of a picture: what lies beyond its edge"""
    smooth: Array1[np.bool]
    tint: Array2[np.float32]
    """(n, 4): what a picture's colours are multiplied by"""


class Primitives(NamedTuple):
    """The primitives in painting order, as arrays of equal length, and what they refer to."""

    kind: Array1[np.uint8]
    disc: Array2[np.float64]
    """(n, 4): centre x and y, outer and inner radius"""
    colour: Array2[np.float32]
    """(n, 4): red, green, blue, each times alpha, and alpha; of a ramp or picture the opacity alone counts"""
    even_odd: Array1[np.bool]
    mask: Array1[np.bool]
    """whether it says where the group that is closed next is seen, rather than being painted"""
    clipped: Array1[np.bool]
    """of a CLOSE: whether masks came before it"""
    blend: Array1[np.uint8]
    """of a CLOSE: index of the blend mode"""
    opacity: Array1[np.float32]
    """of a CLOSE: by how much the group is faded"""
    shade: Array1[np.int64]
    """index of its ramp or picture, or NO_SHADE"""
    bounds: Array2[np.float64]
    """(n, 4): left, top, right, bottom"""
    covered: Array2[np.float64]
    """(n, 4): a box, left, top, right and bottom, that its fill covers wholly; turned inside out where none is known"""
    hides: Array1[np.bool]
    """whether it is solid and lies in no group, so that within that box nothing is seen of what was painted before"""
    first_edge: Array1[np.int64]
    """(n + 1,): a polygon has the edges from its own entry up to the next"""
    edges: Array2[np.float64]
    """(m, 4): from x and y to x and y"""
    folds: Array1[np.uint8]
    """how a polygon may lie over itself"""
    shade_map: Array2[np.float64]
    """(n, 6): the affine map from pixels to where a linear ramp has x from 0 to 1, a radial one its radius from 0 to 1, and a
    picture has its own pixels"""
    shades: Shades
    shadow_place: Array2[np.float64]
    """(n, 3): where the middle of a shadow map's first cell lies, x and y, and the distance of cells in pixels"""
    shadow_size: Array2[np.int64]
    """(n, 3): where a shadow map begins in `shadow_cells`, and its columns and rows"""
    shadow_cells: Array1[np.float32]
    """all shadow maps one after the other, row by row: how dark, 0 to 1"""
    depth: int
    """how many groups lie in each other at most"""


class Bins(NamedTuple):
    """What each tile has to paint, in painting order."""

    first_item: Array1[np.int64]
    """(tiles + 1,): a tile has the items from its own entry up to the next; tiles run row by row"""
    items: Array1[np.int64]
    """numbers of primitives"""
    first_slot: Array1[np.int64]
    """(n + 1,): a polygon has a slot for each row of tiles that it meets"""
    top_row: Array1[np.int64]
    """(n,): the first row of tiles that a primitive meets"""
    first_edge: Array1[np.int64]
    """(slots + 1,): where in `edges` each slot's begin"""
    edges: Array1[np.int64]
    """numbers of edges, those of a slot together"""


class Shapes(NamedTuple):
    """Outlines one after the other, the first being UNIT_SHAPES."""

    verbs: Array1[np.uint8]
    first_verb: Array1[np.int64]
    points: Array2[np.float64]
    first_point: Array1[np.int64]


class Sources(NamedTuple):
    """What polygons are made of: marks, then the clips of groups, as arrays of equal length."""

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
    axis: Array2[np.float64]
    """(n, 2): the direction of x in its frame, in which what has no length is capped"""
    dash_scale: Array1[np.float64]
    """pixels to the unit of its dash"""
    first_length: Array1[np.int64]
    """(dashes + 1,): where each dash's lengths begin in `lengths`"""
    lengths: Array1[np.float64]


DONE, MORE_EDGES, MORE_POINTS = range(3)
"""What stops the drawing of edges: nothing, no more room for edges, or for the points of an outline."""


class FlatOutline(NamedTuple):
    """Room for a flattened outline."""

    points: Array2[np.float64]
    bends: Array1[np.uint8]
    """1 for points inside a curve, joined round"""
    turns: Array2[np.float64]
    """(n, 4): unit directions of the curve that ends at a point, and of the one that begins there; 0 where those of the chords
    are meant"""


class Grid(NamedTuple):
    """Room for a grid that edges are put into, with cells row by row."""

    heads: Array1[np.int64]
    """which comes first in each cell"""
    following: Array1[np.int64]
    """which comes after each"""
    numbers: Array1[np.int64]
    """numbers of edges"""


class Footprints(NamedTuple):
    """Where the edges of an outline that may lie over itself have run on a tile. All 0 between outlines."""

    marks: Array2[np.uint64]
    """(64, 32): of each block through which columns, eight of them to each pixel, edges run that go up, and edges that go down;
    where there may be more than a sum can tell; and more than 0 where more than one chain of edges goes up"""
    busy: Array1[np.uint8]
    """(64,): bit k of a row says that there may be more than a sum can tell in its block k"""
    rises: Array1[np.uint8]
    """(64,): 1 where one chain of edges goes up through a row, and more where more do"""


class CutRoom(NamedTuple):
    """Room to cut pixels in, in which an outline lies over itself."""

    numbers: Array1[np.int64]
    """numbers of edges, chained up by the blocks that they run through"""
    following: Array1[np.int64]
    """which comes after each"""
    heads: Array1[np.int64]
    """(512,): which comes first in each block"""
    pieces: Array2[np.float64]
    """(n, 6): of each piece of an edge in a block, the y at which it begins and ends, from 0 to 1, its x there, how far it goes
    to the side for each pixel down, and 1 where it goes down as its contour does, else -1"""
    near: Array1[np.int64]
    """(n,): numbers of the pieces that reach a pixel"""
    passes: Array1[np.float64]
    """(n,): where each passes the pixel's left side, y, or more than 1"""
    turns: Array1[np.int64]
    """(n,): by how much the winding number on that side grows there"""
    ends: Array2[np.float64]
    """(10, 2): between which heights each lies in the pixel, where they are no more"""
    cuts: Array1[np.float64]
    """heights at which a pixel is cut into strips"""
    places: Array1[np.float64]
    """(n,): where pieces cross the middle of a strip, from left to right"""
    steps: Array1[np.int64]
    """(n,): by how much the winding number grows there"""


class Room(NamedTuple):
    """What a thread works in while it paints.

    Between tiles `cells`, `flags` and `footprints` are all 0, and so are the levels above the first.
    """

    tiles: Array4[np.float32]
    """(levels, 64, 4, 72): the picture, each group that is open, and the last for masks"""
    cells: Array2[np.float32]
    flags: Array1[np.uint8]
    footprints: Footprints
    cut: CutRoom
    cover: Array1[np.float32]
    added: Array1[np.float32]
    """(4,): what is to be laid on the whole tile"""
    below: Array1[np.float32]
    """(3,): parts of a colour, as in the next two"""
    above: Array1[np.float32]
    mixed: Array1[np.float32]
    cell_before: Array1[np.uint64]
    """(64,): the cell of a shadow map before each pixel"""
    beyond_cell: Array1[np.float32]
    """(64,): how far beyond it the pixel lies"""
    line_of_cells: Array1[np.float32]
    paint: Array1[np.float32]
    """(32,): eight reds, eight greens, eight blues, all times alpha, and eight alphas"""
    colour: Array1[np.float32]
    """(4,): of a pixel of a picture"""
    columns: Array1[np.float64]
    """(4,): weights of columns of a picture, and below of rows"""
    rows: Array1[np.float64]


class TileJob(NamedTuple):
    """Some tiles to paint, and all that it takes."""

    first: int
    """tiles of the picture, counted row by row"""
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
    """the addresses of what not every picture needs, by TECHNIQUES; 0 where this one does not"""


TECHNIQUES = ("shading.lay_shade", "shadowing.lay_shadow", "groups.merge_blended", "storing.store_otherwise")


class Window(NamedTuple):
    """The part of a level that is painted on: rows from `top` to `bottom`, blocks of eight pixels from `first` to `last`."""

    level: int
    planes: int
    """the colours, and alpha where it is not solid everywhere"""
    top: int
    bottom: int
    first: int
    last: int
