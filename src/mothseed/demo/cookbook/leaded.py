"""A leaded window. Evenly spread points divide the window into Voronoi cells, and a moth is cut out of them."""

from mothseed import Outline, artwork, dial, mixed, smooth

WING = smooth([(0, -6), (14, -30), (38, -34), (44, -16), (30, 2), (36, 22), (16, 30), (0, 12)], closed=True)


@artwork(width=100, height=100, paper="#1a1a22")
def leaded(sheet, chance, *, panes=dial(150, 20, 500), lead=dial(0.9, 0.3, 2)):
    window = Outline.circle(50, 50, 45)
    moth = WING.union(WING.mirrored()).union(Outline.ellipse(0, 2, 4, 17)).scaled(0.85).moved(50, 51)
    for pane in sheet.voronoi(sheet.scatter(panes, chance("panes"), relaxed=6)):
        own, shape = chance("glass", pane.index), pane.outline.moved(pane.x, pane.y).intersection(window)
        far = ((pane.x - 50) ** 2 + (pane.y - 50) ** 2) ** 0.5 / 45
        sky = mixed("#e8d9a0", "#1f4f6b", far + own.bell(0, 0.12), space="oklch")
        glass = own.colour_near("#c9563a" if far < 0.42 else "#e0953c", lightness=0.1, hue=18)
        sheet.path(shape.difference(moth).grown(-lead / 2), fill=sky)
        sheet.path(shape.intersection(moth).grown(-lead / 2), fill=glass)
    sheet.path(window, fill=None, stroke="#0d0d12", stroke_width=2.4)
    sheet.path(moth, fill=None, stroke="#0d0d12", stroke_width=lead)
