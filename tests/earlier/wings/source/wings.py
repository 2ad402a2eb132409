"""Small wings at a lamp: as little as has a dial of each kind, a module, a picture, a layer, outcomes and one seed that fails."""

from eyes import eye

from mothseed import Palette, artwork, dial, linear_ramp, smooth, soft_shadow


@artwork(width=30, height=40, unit="mm", paper="#f4efe4")
def wings(
    sheet,
    chance,
    *,
    spots=dial(2, 0, 6, help="eyes on each wing"),
    spread=dial(18.0, 0, 45),
    shadow=dial(True),
    ink=dial("#22203a"),
    edge=dial("round", choices=["round", "ragged"]),
):
    palette = Palette.from_picture("dusk.png", count=3)
    form = chance("form").pick(["hawk", "owlet"], weights=[1, 1], label="form")
    wing = sheet.frame(15, 22).mirrored().frame(turn=-spread)
    tint = palette.pick(chance("tint"), label="tint")
    reach = chance("reach").between(8, 13)
    outline = smooth([(0, 0), (reach, -9), (reach, 4)], closed=True)
    wing.path(outline, fill=tint, shadow=soft_shadow(0.6, 0.8) if shadow else None)
    for index in range(spots):
        own = chance("eye", index)
        eye(wing.frame(own.between(2, 9), own.between(-5, 2)), own, ink)
    glow = sheet.layer("glow", opacity=0.6, blend="screen")
    glow.circle(15, 8, 6, fill=linear_ramp((15, 2), (15, 14), ["#e8b44f", "#f4efe4"]))
    sheet.text(15, 38, form, 3, align="middle", fill=ink)
    if edge == "ragged":
        sheet.polyline([(2, y + chance("edge", y).bell(0, 0.4)) for y in range(3, 36, 3)], stroke=ink, stroke_width=0.3, dash=(1, 0.5))
    sheet.note("spots", spots)
    if form == "owlet" and spots > 4:
        raise ValueError("an owlet has no room for so many eyes")
