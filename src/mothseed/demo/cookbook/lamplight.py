"""A motif drawn once. As a symbol, it is used two thousand times, with arrays of positions, turns, sizes and tints."""

import numpy as np

from mothseed import Palette, artwork, dial, radial_ramp, smooth


def owlet(view):
    both = view.mirrored()
    both.path(smooth([(0, 1), (5, 5), (4, 9), (1, 6)], closed=True), fill="#b9b3c4")
    both.path(smooth([(0, -3), (6, -5), (10, 1), (4, 4)], closed=True), fill="#ffffff")
    both.circle(6, -0.5, 1.1, fill="#4b4660")
    view.ellipse(0, 1, 1.2, 5, fill="#4b4660")


@artwork(width=100, height=100, paper="#12101f")
def lamplight(sheet, chance, *, count=dial(2000, 10, 6000), swirl=dial(62.0, 0, 90)):
    lamp = sheet.centred()
    lamp.circle(
        0, 0, 70, fill=radial_ramp((0, 0), 70, ["#ffe9b0", "#c9703f99", "#3a234a55", "#12101f00"], at=[0, 0.16, 0.5, 1])
    )
    around = np.sort(chance("around").between(0, 1, size=count))[::-1]
    away, heading = 9 + 58 * around**0.8, chance("heading").between(0, 360, size=count)
    x, y = away * np.cos(np.radians(heading)), away * np.sin(np.radians(heading))
    turn = heading - 90 + swirl + chance("sway").bell(0, 16, size=count)
    # In steps: moths of one tint are one symbol in SVG and PDF.
    tints = Palette(["#fff6dc", "#f3c36b", "#c4634f", "#5f3c6b", "#2a2545"]).ramp(np.round(around * 32) / 32)
    lamp.uses(lamp.symbol(owlet), x, y, turn=turn, scale=0.1 + 0.12 * (1 - around), tint=tints)
    lamp.circle(0, 0, 4, fill="#fffaf0")
