"""Garlands. A line is cut into parts, each with its own tint, and something grows at every corner."""

from mothseed import Palette, Trail, artwork, dial, smooth

PETAL = smooth([(0, 0), (2.2, -1.5), (5, 0), (2.2, 1.5)], closed=True)


@artwork(width=100, height=100, paper="#1c2a2b")
def garland(sheet, chance, *, rounds=dial(5, 1, 7), beads=dial(36, 6, 90)):
    tints = Palette(["#f4efe4", "#e8b44f", "#d9715b", "#7d4f7f", "#4e6b5c"])
    for turn in range(rounds, 0, -1):
        own, radius = chance("round", turn), turn * 44 / rounds
        knots = [(spot.x, spot.y) for spot in sheet.frame(50, 50).ring(turn * 3 + 4, radius)]
        line = smooth([(x * own.between(0.93, 1.05), y * own.between(0.93, 1.05)) for x, y in knots], closed=True).moved(50, 50)
        for bead in range(beads):
            part = line.part(bead / beads, (bead + 0.72) / beads)
            sheet.path(part, fill=None, stroke=tints.cycle(bead + turn), stroke_width=0.5 + 0.16 * turn, linecap="round")
        for corner in line.corners:
            flower = sheet.frame(corner.x, corner.y, turn=corner.heading, scale=0.45 + 0.07 * turn).spun(5)
            flower.path(PETAL, fill=own.pick(["#f4efe4", "#d9715b", "#e8b44f"]))
            flower.circle(0, 0, 1, fill="#1c2a2b")
    fly = Trail(50, 50, heading=own.turn()).bend(6, 300).bend(-4, 200).outline
    sheet.path(fly.swelled([0, 0.8, 0]), fill="#f4efe4")
