"""Wings by odds. Each technique has its own odds: change one, and the others stay as they are."""

from mothseed import Palette, artwork, dial, smooth

WING = smooth([(0, 6), (-8, -3), (-6, -9), (2, -8), (8, 0)], closed=True)
INK = "#22203a"


def hatching(wing, own):
    slope = own.between(-6, 6)
    for step in range(24):
        wing.line(-10, step - 14, 10, step - 14 + slope, stroke=INK, stroke_width=0.3)


def rings(wing, own):
    x, y = own.between(-3, 3), own.between(-5, 0)
    for step in range(6):
        wing.circle(x, y, 1 + step * 1.3, fill=None, stroke=INK, stroke_width=0.4)


def dusting(wing, own):
    for x, y in own.point(WING, size=160):
        wing.circle(x, y, 0.28, fill="#f4efe4")


@artwork(width=100, height=100, paper="#f4efe4")
def techniques(sheet, chance, *, hatched=dial(0.4, 0, 1), ringed=dial(0.3, 0, 1), dusted=dial(0.5, 0, 1)):
    tints = Palette(["#3a4a63", "#7d4f7f", "#d9715b", "#e8b44f", "#7d9f86"])
    for cell in sheet.inset(4).grid(5, 5):
        own = chance("wing", cell.index)
        wing = cell.frame(turn=own("pose").bell(0, 12)).clipped(WING)
        wing.path(WING, fill=tints.pick(own("tint")))
        for technique in own.chosen({hatching: hatched, rings: ringed, dusting: dusted}):
            technique(wing, own(technique.__name__))
