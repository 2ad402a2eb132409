"""Lichen on a stone. Places keep their distance, colours stay close to a key, and every patch has an edge of its own."""

import math

from mothseed import Colour, artwork, dial, mixed, smooth

KEY, CREAM = Colour.parse("#93a57e"), Colour.parse("#f4efe4")


def patch(view, own, radius, tint):
    for ring in range(6):
        reach = own("edge", ring).between(0.86, 1.1, size=16) * radius * (1 - ring * 0.16)
        rim = [(far * math.cos(step * math.tau / 16), far * math.sin(step * math.tau / 16)) for step, far in enumerate(reach)]
        view.path(smooth(rim, closed=True), fill=mixed(tint, CREAM, ring * 0.12))


@artwork(width=100, height=100, paper="#5c5a5e")
def lichen(sheet, chance, *, patches=dial(110, 1, 200), gap=dial(8.5, 3, 20)):
    for place in sheet.scatter(patches, chance("places"), gap=gap):
        own = chance("patch", place.index)
        tint = own.colour_near(KEY, lightness=0.1, chroma=0.03, hue=24)
        patch(place, own, own.skewed(2.2, gap * 0.72, 1.6), tint)
