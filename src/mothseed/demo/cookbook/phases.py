"""Phases of the moon. A clip confines what you draw to an outline; here the moon clips its own shadow."""

from mothseed import Palette, artwork, dial, ngon


@artwork(width=100, height=100, paper="#14213d")
def phases(sheet, chance, *, cols=dial(5, 2, 9)):
    silver = Palette(["#8d93a8", "#f4efe4"])
    for cell in sheet.inset(8).grid(cols, cols, gap=2):
        radius = cell.width * 0.42
        moon = cell.clipped(ngon(90, radius=radius))
        night = cell.index / (cols * cols - 1)
        moon.circle(0, 0, radius, fill=silver.ramp(chance("haze", cell.index).between(0.3, 1)))
        moon.circle((night - 0.5) * 4.4 * radius, 0, radius * 1.02, fill="#14213d", opacity=0.93)
        cell.circle(0, 0, radius, fill=None, stroke="#8d93a8", stroke_width=0.15)
