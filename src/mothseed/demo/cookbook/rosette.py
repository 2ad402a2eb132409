"""A rose window of wings. On a spun view each shape appears all the way round, from a single set of random draws."""

from mothseed import Palette, artwork, dial, smooth


@artwork(width=100, height=100, paper="#131a2b")
def rosette(sheet, chance, *, folds=dial(12, 3, 24), rings=dial(5, 1, 8)):
    glass = Palette(["#3d5a80", "#7d4f7f", "#d9715b", "#e8b44f", "#9fb08d"])
    window = sheet.centred().spun(folds)
    for ring in range(rings, 0, -1):
        own = chance("ring", ring)
        far, width = ring * 47 / rings, own.between(5, 11) * 9 / folds
        wing = smooth([(0, -far * 0.3), (width, -far * 0.8), (0, -far), (-width, -far * 0.8)], closed=True)
        window.path(wing, fill=glass.pick(own), stroke="#131a2b", stroke_width=0.8)
        window.circle(0, -far * 0.86, own.between(0.8, 1.8), fill=glass.pick(own), stroke="#131a2b", stroke_width=0.5)
        window.line(0, 0, 0, -far, stroke="#131a2b", stroke_width=0.3)
    sheet.centred().circle(0, 0, 5, fill="#f4efe4", stroke="#131a2b", stroke_width=0.8)
