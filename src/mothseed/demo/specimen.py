"""A specimen plate: one moth that never existed, in the colours of an evening."""

from moth import FORMS, Fan, body, eyespot, shade, study, wing

from mothseed import Palette, artwork, dial


@artwork(width=180, height=240, unit="mm", paper="#f3ecdf")
def specimen(
    sheet,
    chance,
    *,
    spots=dial(1, 0, 5, help="eyespots on each forewing"),
    spread=dial(16, 0, 40, help="degrees between fore- and hindwing"),
    shadow=dial(True, help="a soft shadow on the paper"),
):
    dusk = Palette.from_picture("dusk.png", count=7)
    form = chance("form").pick(["owlet", "hawk", "plume"], weights=[5, 3, 1], label="form")
    night, violet, plum, rose, ember, amber, cream = dusk
    tint = chance("tint").pick(["rose", "amber", "violet"], label="tint")
    ground, band, pale = {"rose": (rose, amber, cream), "amber": (amber, ember, cream), "violet": (plum, rose, cream)}[tint]
    dark = night if chance("dark").odds(0.6) else violet

    plate(sheet.inset(9), dusk)
    moth = sheet.frame(90, 98, turn=chance("pose").between(-4, 4))
    size = chance("size").between(74, 82)
    profile = [reach * chance("profile", i).between(0.96, 1.04) for i, reach in enumerate(FORMS[form])]
    fore = Fan(-56, 14, size, profile)
    hind = Fan(-10, 74, size * 0.66, [0.80, 0.95, 1.0, 0.98, 0.95, 0.88, 0.66])

    both = moth.mirrored()
    forewing, hindwing = both.frame(4, -6, turn=8 - spread / 2), both.frame(3, 3, turn=spread / 2)
    if shadow:
        shade(moth.frame(2.2, 3.4).mirrored().frame(3, 3, turn=spread / 2), hind.outline())
        shade(moth.frame(2.2, 3.4).mirrored().frame(4, -6, turn=8 - spread / 2), fore.outline())
    wing(hindwing, chance("hindwing"), hind, (band, ground, dark, pale), spots=1)
    if shadow:
        shade(forewing.frame(0.8, 1.6), fore.outline(), strength=0.009, reach=4)
    wing(forewing, chance("forewing"), fore, (ground, band, dark, pale), spots=spots, scales=1300)
    body(moth, chance("body"), 52, (ground, band, dark, pale))

    for place, fan in ((sheet.frame(34, 190, turn=18, scale=0.36), fore), (sheet.frame(118, 177, turn=-14, scale=0.52), hind)):
        study(place.styled(linecap="round"), fan, night)
    eyespot(sheet.frame(90, 182), 6.5, (dark, band, pale))


def plate(view, palette):
    """What every plate has: a double frame, a scale, and the palette as a row of swatches."""
    ink = palette[0]
    view.rect(0, 0, view.width, view.height, fill=None, stroke=ink, stroke_width=0.7)
    inner = view.inset(2)
    inner.rect(0, 0, inner.width, inner.height, fill=None, stroke=ink, stroke_width=0.2)
    foot = view.frame(view.width / 2, view.height - 13)
    for index, swatch in enumerate(palette):
        foot.circle((index - (len(palette) - 1) / 2) * 9, 1.5, 3.2, fill=swatch)
    for side in (-1, 1):
        for tick in range(11):
            length = 3.4 if tick % 5 == 0 else 1.8
            foot.line(side * (42 + 2 * tick), 3, side * (42 + 2 * tick), 3 - length, stroke=ink, stroke_width=0.2)
        foot.line(side * 42, 3, side * 62, 3, stroke=ink, stroke_width=0.3)
