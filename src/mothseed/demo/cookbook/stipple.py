"""Stippling. Dots are dense where a picture is dark, and otherwise as evenly spaced as can be."""

from mothseed import artwork, dial


@artwork(width=100, height=100, paper="#f4efe4")
def stipple(sheet, chance, *, dots=dial(3200, 500, 20000), evenly=dial(12, 0, 60)):
    plate = sheet.inset(7)
    dusk = plate.picture("dusk.png").toned([(0, 0), (0.25, 0.12), (0.7, 0.75), (1, 1)])

    def darkness(x, y):
        return (1.02 - dusk.lightness(x, y)) ** 1.6

    for dot in plate.scatter(dots, chance("dots"), weight=darkness, relaxed=evenly):
        plate.circle(dot.x, dot.y, 0.22 + 0.26 * darkness(dot.x, dot.y), fill="#22203a")
    plate.rect(0, 0, plate.width, plate.height, fill=None, stroke="#22203a", stroke_width=0.35)
