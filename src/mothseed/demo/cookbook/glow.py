"""A glow from faint layers. Each adds one part in fifty, and no banding shows."""

from mothseed import artwork, dial


@artwork(width=100, height=100, paper="#0d1228")
def glow(sheet, chance, *, layers=dial(60, 1, 200), reach=dial(46.0, 5, 60)):
    lamp = sheet.centred()
    for layer in range(layers):
        lamp.circle(0, 0, 7 + (reach - 7) * (layer / layers) ** 1.6, fill="#f0b660", opacity=0.02)
    for gnat in range(70):
        own = chance("gnat", gnat)
        x, y = own.bell(0, 19, size=2)
        lamp.circle(x, y, own.skewed(0.25, 1.2, 2), fill="#fff3cf", opacity=own.between(0.3, 1))
    lamp.circle(0, 0, 5, fill="#fff8e4")
