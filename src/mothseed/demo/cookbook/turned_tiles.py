"""Tiles turned at random. One tile, four ways to lay it, and the lines still join up."""

from mothseed import artwork, dial


def tile(view, side, ink):
    half = side / 2
    for corner, start in ((-half, 0), (half, 180)):
        for radius in (0.62, 1.0, 1.38):
            view.arc(corner, corner, half * radius, start, 90, fill=None, stroke=ink, stroke_width=side * 0.055)


@artwork(width=100, height=100, paper="#efe6d3")
def turned_tiles(sheet, chance, *, cols=dial(8, 2, 20)):
    for cell in sheet.grid(cols, cols):
        own = chance("tile", cell.index)
        ink = own.pick(["#14213d", "#d9715b"], weights=[7, 1])
        tile(cell.frame(turn=own.turn(step=90)), cell.width, ink)
