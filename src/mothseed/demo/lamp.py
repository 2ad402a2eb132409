"""The lamp at night: its glow, its rings of light, and everything that comes to it."""

from moth import FORMS, Fan

from mothseed import Palette, artwork, clamp, dial, linear_ramp, mix, radial_ramp, rescale, smooth, soft_shadow

NIGHT = linear_ramp((0, 0), (0, 240), ["#0b1026", "#17183a", "#2b2148", "#55345a", "#8a4f5d"], at=[0, 0.3, 0.6, 0.85, 1])


@artwork(width=180, height=240, unit="mm", paper=NIGHT, light=90)
def lamp(
    sheet,
    chance,
    *,
    moths=dial(70, 0, 400, help="moths around the lamp"),
    rings=dial(11, 0, 30, help="rings of light"),
    reach=dial(88.0, 30, 140, help="how far the light goes, in mm"),
):
    dusk = Palette.from_picture("dusk.png", count=7)
    middle = sheet.frame(sheet.across(0.5), sheet.down(0.43))
    stars(sheet, chance("stars"))

    glow = middle.layer("glow", blend="screen")
    glow.circle(
        0, 0, reach * 1.5, fill=radial_ramp((0, 0), reach * 1.5, ["#ffdf9c99", "#e09a5544", "#b0605500"], at=[0, 0.35, 1])
    )
    glow.circle(
        0, 0, reach * 0.42, fill=radial_ramp((0, 0), reach * 0.42, ["#fff3cfee", "#ffdf9c55", "#ffdf9c00"], at=[0, 0.4, 1])
    )
    for ring in range(rings):
        part = (ring + 1) / rings
        own = chance("ring", ring)
        glow.frame(turn=own.turn()).circle(
            0, 0, 15 + (reach - 15) * part ** 1.25, fill=None, stroke="#ffe7b3", stroke_width=mix(0.5, 0.12, part),
            opacity=mix(0.75, 0.12, part), dash=(own.between(9, 40), own.between(0.8, 5)), linecap="round",
        )  # fmt: skip

    for place in middle.spiral(moths, 11.5, kind="phyllotaxis", facing="along"):
        own = chance("moth", place.index)
        far = 11.5 * place.index**0.5
        if far < 17 or own("there").odds(clamp(rescale(far, reach * 0.7, reach * 1.25, 0.05, 0.75), 0, 0.8)):
            continue
        size = mix(3.2, 7.5, clamp(far / reach, 0, 1)) * own("size").between(0.75, 1.3)
        flier = place.frame(own("off").bell(0, 2.2), own("off").bell(0, 2.2), turn=own("turn").bell(0, 35))
        moth(flier, own, size, dusk.ramp(clamp(rescale(far, 20, reach, 0.98, 0.25), 0.2, 1)), dusk)

    lantern(middle)
    caption(sheet, chance, moths)


def stars(sheet, chance):
    """Stars and dust, more of them higher up."""
    for place in sheet.scatter(160, chance, gap=3, weight=lambda _, y: 1 - y / sheet.height):
        place.dot(0, 0, stroke="#fdf3d8", stroke_width=chance("size", place.index).between(0.15, 0.55), opacity=0.7)


def moth(view, chance, size, light, palette):
    """A flier seen from above, its wings lit from one side."""
    form = chance("form").pick(list(FORMS), weights=[4, 5, 1])
    open_wide = chance("wings").between(-12, 22)
    fore = Fan(-58 + open_wide, 12, size, FORMS[form])
    hind = Fan(-6, 74 - open_wide, size * 0.66, [0.85, 0.97, 1.0, 0.96, 0.9, 0.8, 0.6])
    both = view.mirrored().styled(shadow=soft_shadow(1.2, 1.6, "#05060f", 0.5))
    both.path(hind.outline(), fill=light, opacity=0.9)
    both.path(fore.outline(), fill=light, opacity=0.95)
    plain = both.styled(shadow=None)
    plain.path(fore.band(0.72, 0.97), fill=palette[0], opacity=0.35)
    plain.path(smooth(fore.line(0.6)), fill=None, stroke=palette[6], stroke_width=size * 0.03, opacity=0.7)
    for x, y in fore.line(0.66, 0.35, 0.65, 2):
        plain.circle(x, y, size * 0.07, fill=palette[0])
    view.ellipse(0, size * 0.16, size * 0.075, size * 0.36, fill=palette[0])


def lantern(view):
    """A glass lantern on its chain."""
    ink = "#1a1430"
    view.line(0, -104, 0, -17, stroke=ink, stroke_width=0.7, dash=(2.2, 0.9), linecap="round")
    body = view.styled(shadow=soft_shadow(2, 3, "#05060f", 0.45))
    glass = smooth([(-6.5, -9), (-8.5, 2), (-5.5, 11), (5.5, 11), (8.5, 2), (6.5, -9)], closed=True, tension=0.2)
    body.path(glass, fill=radial_ramp((0, 1), 12, ["#fffdf0", "#ffe39b", "#f0a94e"]))
    both = view.mirrored()
    both.path(smooth([(2.4, -9), (3.4, 2), (2.2, 11)]), fill=None, stroke=ink, stroke_width=0.35, opacity=0.8)
    both.path(smooth([(6.5, -9), (8.5, 2), (5.5, 11)]), fill=None, stroke=ink, stroke_width=0.9)
    for y, half, height in ((-11.5, 7.6, 3), (10.6, 6.4, 2.6)):
        view.rect(-half, y, 2 * half, height, radius=1, fill=ink)
    view.polygon([(-6, -11.5), (6, -11.5), (2, -16.5), (-2, -16.5)], fill=ink)
    view.annulus(0, -18, 1.6, 0.8, fill=ink)
    view.star(0, 1.5, 8, 3.4, 1.1, fill="#ffffff", opacity=0.9)


def caption(sheet, chance, moths):
    """A title, and a line below it that differs from plate to plate."""
    foot = sheet.frame(sheet.across(0.5), sheet.down(0.925))
    foot.text(
        0,
        0,
        "The Lamp",
        11,
        align="middle",
        italic=True,
        spacing=0.4,
        fill="#fdf0cf",
        shadow=soft_shadow(0.5, 1, "#05060f", 0.6),
    )
    hour = chance("hour").pick(["at dusk", "after rain", "at midnight", "before dawn"], label="hour")
    foot.text(0, 7, f"{moths} moths, {hour}", 4.6, align="middle", spacing=0.15, fill="#e9c9a0")
    for side in (-1, 1):
        foot.line(side * 30, -3.4, side * 52, -3.4, stroke="#e9c9a0", stroke_width=0.25)
        foot.ngon(side * 55, -3.4, 4, 1.1, fill="#e9c9a0")
