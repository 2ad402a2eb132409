"""Raked sand around stones. Outlines grow outwards, merge where they meet, and never cross themselves."""

from mothseed import Outline, Palette, artwork, dial, smooth


@artwork(width=100, height=100, paper="#e6dcc6")
def stones(sheet, chance, *, count=dial(6, 1, 12), furrow=dial(1.5, 0.8, 4)):
    greys = Palette(["#2f3640", "#4a4f55", "#6d6a66"])
    shapes = []
    for stone, place in enumerate(sheet.scatter(count, chance("places"), margin=16, gap=21)):
        own = chance("stone", stone)
        ring = [(point.x, point.y) for point in sheet.frame(place.x, place.y).ring(7, 1)]
        size = own.between(3.5, 8.5)
        shape = smooth([(x * size * own.between(0.8, 1.2), y * size * own.between(0.6, 1)) for x, y in ring], closed=True)
        shapes.append(shape.turned(own.turn()).moved(place.x, place.y))
    land = Outline.united(shapes)
    furrows = [land.grown(furrow * step) for step in range(1, 9)]
    far = Outline.rect(0, 0, 100, 100).difference(furrows[-1])
    sheet.path(far.hatched(furrow, 0), fill=None, stroke="#b9a98a", stroke_width=0.45)
    for step, ring in enumerate(furrows):
        sheet.path(ring, fill=None, stroke="#b9a98a", stroke_width=0.7 - step * 0.03)
    for number, shape in enumerate(shapes):
        sheet.path(shape.moved(0.8, 1), fill="#b9a98a")
        sheet.path(shape, fill=greys.cycle(number))
