"""A picture through a sieve. Each hole is as large as the picture is light at that point."""

from mothseed import artwork, dial, rescale


@artwork(width=100, height=100, paper="#17152a")
def sieve(sheet, chance, *, cols=dial(40, 8, 90), least=dial(0.12, 0.0, 0.5), most=dial(0.62, 0.1, 1.0)):
    evening = sheet.picture("dusk.png")
    for cell in sheet.grid(cols, cols, hexagonal=True):
        x, y = cell.col_fraction * sheet.width, cell.row_fraction * sheet.height
        light = rescale(evening.lightness(x, y), 0.1, 0.85, least, most)
        cell.circle(0, 0, cell.width * light, fill=evening.at(x, y))
