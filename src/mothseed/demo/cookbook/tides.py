"""A table of tides. Lines waver around a mean by a bell curve, and a walk stays within its walls."""

from mothseed import Palette, artwork, dial, smooth


@artwork(width=100, height=100, paper="#e9e3d3")
def tides(sheet, chance, *, lines=dial(44, 4, 120), unrest=dial(0.75, 0.0, 3.0)):
    sea = Palette(["#e8b44f", "#d9a07f", "#7fa0b5", "#3d5a80", "#1b2440"])
    for line in range(lines):
        own, part = chance("line", line), line / (lines - 1)
        y = 10 + part**1.35 * 84
        swell = own.bell(0, unrest * (0.3 + part), size=12)
        points = [(step * 100 / 11 - 0.5, y + height) for step, height in enumerate(swell)]
        points[0], points[-1] = (-2, points[0][1]), (102, points[-1][1])
        sheet.path(smooth(points), fill=None, stroke=sea.ramp(part), stroke_width=0.25 + part * 1.1, linecap="round")
    sheet.circle(72, 12, 5, fill="#d9715b")
