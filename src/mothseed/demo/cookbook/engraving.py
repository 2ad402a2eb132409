"""An engraved moon. Outlines are subtracted from each other and hatched with lines, the way a burin would cut them."""

from mothseed import Outline, artwork, dial


@artwork(width=100, height=100, paper="#f1ead8")
def engraving(sheet, chance, *, spacing=dial(0.9, 0.5, 3), age=dial(0.55, -1, 1)):
    sky, moon = Outline.rect(8, 8, 84, 84), Outline.circle(50, 46, 27)
    dark = moon.difference(Outline.circle(50 - 40 * age, 46 - 6 * age, 29))
    hills = Outline.polygon([(8, 92), *((8 + 6 * n, chance("hill", n).between(72, 84)) for n in range(15)), (92, 92)])
    craters = Outline.circle(0, 0, 0.1)
    for spot in range(7):
        own = chance("crater", spot)
        craters = craters.union(Outline.circle(*own.point((50, 46, 21)), own.skewed(1.5, 6, 2)))
    ink = sheet.styled(fill=None, stroke="#1d2433", stroke_width=0.22)
    ink.path(sky.difference(moon.grown(1.2)).difference(hills).hatched(spacing, 0))
    ink.path(moon.hatched(spacing * 2, 35))
    for cut, turn in ((dark, -35), (craters.intersection(moon), 80), (dark.grown(-3), 10)):
        ink.path(cut.hatched(spacing, turn))
    ink.styled(stroke_width=0.3).path(hills.hatched(spacing * 0.8, -52))
    ink.styled(stroke_width=0.3).path(hills.hatched(spacing * 0.8, 52))
    ink.styled(stroke_width=0.5).path(moon.joined(hills).joined(sky))
