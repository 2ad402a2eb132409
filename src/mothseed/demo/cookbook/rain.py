"""Rain on glass. Many short lines and a few long ones: `skewed` is for anything that is mostly small."""

from mothseed import artwork, dial, linear_ramp

DUSK = linear_ramp((0, 0), (0, 100), ["#1b2440", "#4b4468", "#b06b62", "#e8b071"])


@artwork(width=100, height=100, paper=DUSK)
def rain(sheet, chance, *, drops=dial(420, 10, 2000), slant=dial(9, -40, 40, help="degrees from upright")):
    for drop in range(drops):
        own = chance("drop", drop)
        length = own.skewed(1.5, 22, 4)
        falling = sheet.frame(*own.point(sheet), turn=slant + own.bell(0, 1.5))
        falling.line(0, 0, 0, length, stroke="#f4efe4", stroke_width=own.between(0.08, 0.3), opacity=own.between(0.15, 0.7))
        if own.odds(0.12):
            falling.ellipse(0, length, 0.5, 0.8, fill="#f4efe4", opacity=0.8)
