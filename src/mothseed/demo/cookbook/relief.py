"""Relief. Filled contours divide a landscape into areas; the deeper an area lies, the more directions it is hatched in."""

from mothseed import artwork, dial

INK = "#22304a"


@artwork(width=100, height=100, paper="#efe6d2")
def relief(sheet, chance, *, spacing=dial(0.9, 0.4, 3), swing=dial(37, 0, 90)):
    bay = sheet.inset(8)
    hills, lean = chance("hills").field(46, detail=3), chance("lean").turn()

    def depth(x, y):
        return -hills.at(x, y) - 0.25 + ((x - 42) ** 2 + (y - 42) ** 2) / 4200

    for step, water in enumerate(bay.contours(depth, [0.0, 0.14, 0.28, 0.45, 0.65], filled=True)):
        bay.path(water.hatched(spacing, lean + step * swing), fill=None, stroke=INK, stroke_width=0.13)
    for level in bay.contours(depth, [-0.5, -0.36, -0.22, -0.1]):
        bay.path(level, fill=None, stroke="#a0552f", stroke_width=0.18)
    bay.path(bay.contours(depth, 0.0), fill=None, stroke=INK, stroke_width=0.5)
    for lamp in bay.scatter(9, chance("lamps"), margin=6, gap=14, weight=lambda x, y: depth(x, y) < -0.05):
        lamp.circle(0, 0, 0.9, fill="#d9715b")
        lamp.circle(0, 0, 1.7, fill=None, stroke="#d9715b", stroke_width=0.25)
    bay.rect(0, 0, bay.width, bay.height, fill=None, stroke=INK, stroke_width=0.5)
