"""Contours of an island. The same outline again and again, each time farther in, and darker as the land rises."""

import math

from mothseed import Palette, artwork, dial, offset, smooth


@artwork(width=100, height=100, paper="#c9d3cf")
def contours(sheet, chance, *, steps=dial(11, 1, 30), gap=dial(1.9, 0.5, 6)):
    heights = Palette(["#e6dcc0", "#b9b98b", "#7d9f86", "#4e6b5c", "#2f4a43"])
    coast = chance("coast")
    reach = coast.between(36, 46, size=9)
    around = [step * math.tau / 9 for step in range(9)]
    shore = smooth([(far * math.cos(way), far * math.sin(way)) for far, way in zip(reach, around, strict=True)], closed=True)
    for step in range(steps):
        sheet.centred().path(offset(shore, gap * step), fill=heights.ramp(step / max(steps - 1, 1)), stroke="#f4efe4",
                             stroke_width=0.3)  # fmt: skip
