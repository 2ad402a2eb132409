"""Scaled wings. One scale, drawn once, fills each wing as a pattern; buds mark both ends of the veins."""

from mothseed import Palette, artwork, dial, smooth

FORE = smooth([(2, 0), (16, -26), (42, -36), (46, -22), (30, -4), (10, 4)], closed=True)
HIND = smooth([(2, 2), (22, 0), (34, 12), (26, 30), (10, 26)], closed=True)
VEINS = [
    smooth([(3, 0), (x * 0.5, y * 0.62), (x, y)]) for x, y in ((42, -31), (42, -21), (31, -8), (31, 14), (24, 27), (11, 24))
]


def scale(view, tint, rim):
    view.path(smooth([(-2, -2), (2, -2), (1.7, 1), (0, 2.4), (-1.7, 1)], closed=True), fill=tint, stroke=rim, stroke_width=0.22)
    view.line(0, -1.6, 0, 1.6, stroke=rim, stroke_width=0.16)


@artwork(width=100, height=100, paper="#1d1f33")
def scaled_wings(sheet, chance, *, step=dial(2.6, 1, 6)):
    tints = Palette([chance("tint", part).colour(lightness=(0.55, 0.8), chroma=(0.07, 0.14)) for part in range(2)])
    moth = sheet.frame(50, 52).mirrored()
    bud = sheet.symbol(lambda view: view.circle(0, 0, 0.7, fill="#f4efe4"))
    for wing, tint, lean in ((HIND, tints[1], 60), (FORE, tints[0], 35)):
        moth.path(wing, fill="#1d1f33", stroke="#f4efe4", stroke_width=1.2)
        moth.pattern(wing, sheet.symbol(scale, tint, "#1d1f33"), (step * 1.3, step), turn=lean - 90, brick=0.5)
    for vein in VEINS:
        moth.path(vein.swelled([1, 0.5, 0.2]), fill="#f4efe4")
        moth.markers(bud, vein, at="end")
    sheet.ellipse(50, 54, 3.2, 15, fill="#f4efe4")
    sheet.circle(50, 37, 3, fill="#f4efe4")
    moth.path(smooth([(1, -16), (6, -28), (14, -36)]).swelled([0.8, 0.2]), fill="#f4efe4")
