"""Moonrise: an engraved moon in a night of contour lines, with moths and reeds."""

import numpy as np
from moth import FORMS, Fan

from mothseed import Outline, Palette, artwork, dial, linear_ramp, mix, radial_ramp, rescale, smooth

NIGHT = linear_ramp((0, 12), (0, 218), ["#0a0f24", "#141637", "#2a2149", "#4c2f57", "#8a4f5d"], at=[0, 0.35, 0.65, 0.86, 1])


@artwork(width=180, height=240, unit="mm", paper="#f3ecdf")
def moonrise(
    sheet,
    chance,
    *,
    radius=dial(36.0, 15, 60, help="of the moon, in mm"),
    lines=dial(44, 0, 90, help="contour lines around it"),
    moths=dial(23, 0, 90, help="moths on their way"),
    reeds=dial(90, 0, 300, help="reeds on the bank"),
):
    dusk = Palette.from_picture("dusk.png", count=7)
    plate = Outline.rect(12, 12, 156, 206)
    sky = sheet.clipped(plate)
    sky.path(plate, fill=NIGHT)
    x, y = sheet.across(chance("moon").between(0.4, 0.6)), sheet.down(0.36)
    moon = sky.frame(x, y)
    heights(sky, chance("sky"), (x, y), radius, lines, dusk)
    engraved(moon, chance("face"), radius)
    flight(moon, chance("flight"), radius, moths, dusk)
    bank(sky, chance("bank"), reeds)
    sheet.path(plate, fill=None, stroke=dusk[0], stroke_width=0.5)
    sheet.rect(10.4, 10.4, 159.2, 209.2, fill=None, stroke=dusk[0], stroke_width=0.15)
    sheet.text(12, 229, "Moonrise", 7, italic=True, fill=dusk[0])
    sheet.text(168, 229, f"night {chance('night').whole(2, 97)}", 5, align="end", italic=True, fill=dusk[1])


def heights(view, chance, middle, radius, count, palette):
    """Contour lines of a landscape that is calm around the moon and wilder farther away."""
    land = chance.field(52, 3, isotropic=True)
    x0, y0 = middle

    def height(x, y):
        far = np.sqrt((x - x0) ** 2 + (y - y0) ** 2) / radius
        return far + 0.9 * np.sqrt(np.clip(far - 1.0, 0, 3)) * land.at(x, y)

    glow = view.layer("glow", blend="screen")
    warmth = radial_ramp((x0, y0), radius * 3.4, ["#f0c98a88", "#a8607a33", "#a8607a00"], at=[0, 0.42, 1])
    glow.circle(x0, y0, radius * 3.4, fill=warmth)
    levels = [1.08 + 0.055 * step * (1 + step * 0.012) for step in range(count)]
    ink = view.styled(fill=None, linejoin="round")
    for step, line in enumerate(view.contours(height, levels)):
        part = step / max(count - 1, 1)
        wide = 0.42 if step % 5 == 0 else 0.2
        ink.path(line, stroke=palette.ramp(mix(1.0, 0.35, part)), stroke_width=wide, opacity=mix(0.95, 0.34, part))


def engraved(view, chance, radius):
    """A disc of lines that swell in the dark plains and towards the shadow."""
    face = chance.field(radius * 0.7, 4, isotropic=True)
    view.circle(0, 0, radius, fill=radial_ramp((-radius * 0.3, -radius * 0.3), radius * 1.5, ["#fff6dd", "#f3d79c", "#d99a6a"]))
    disc = view.clipped(Outline.circle(0, 0, radius))
    steps = 74
    for step in range(steps):
        y = radius * (2 * (step + 0.5) / steps - 1)
        reach = (radius**2 - y**2) ** 0.5
        along = np.linspace(-reach, reach, 90)
        bent = y + 0.06 * (along**2 / radius - radius * 0.5)
        plains = np.clip(face.at(along, y) + 0.12, 0, 0.6) / 0.6
        edge = np.clip((along * 0.62 + y * 0.5) / radius, 0, 1) ** 2
        width = np.clip(0.9 * plains + 0.95 * edge, 0, 1) * radius / steps * 1.7
        line = smooth(np.stack([along, bent], axis=1))
        disc.path(line.swelled(width + 0.02), fill="#4a2c4f", opacity=0.9)
    for index in range(9):
        own = chance("crater", index)
        x, y = own.point((0, 0, radius * 0.85))
        size = own.skewed(radius * 0.02, radius * 0.09, 2)
        disc.circle(x, y, size, fill="#fbe9bf", opacity=0.85)
        disc.arc(x, y, size, -60, 190, stroke="#4a2c4f", stroke_width=0.3)


def flight(moon, chance, radius, count, palette):
    """Moths on a spiral around the light, the nearest ones large and dark."""
    shapes = [moon.symbol(silhouette, FORMS[form]) for form in ("hawk", "owlet")]
    for place in moon.spiral(count, radius * 0.52, kind="phyllotaxis", facing="along"):
        own = chance("moth", place.index)
        far = (place.x**2 + place.y**2) ** 0.5 / radius
        if far < 0.35:
            continue
        near = own.skewed(0, 1, 2)
        place.frame(own.bell(0, 5), own.bell(0, 5), turn=own.bell(-24, 26)).use(
            own.pick(shapes), scale=rescale(near, 0, 1, 3.4, 12), tint=palette.ramp(rescale(near, 0, 1, 0.95, 0.1)),
            opacity=rescale(near, 0, 1, 0.8, 1),
        )  # fmt: skip


def silhouette(view, profile):
    """Four wings and a body, one unit in size and white, for a tint to colour."""
    both = view.mirrored()
    for fan in (Fan(-58, -4, 1, profile), Fan(6, 58, 0.62, profile)):
        both.path(fan.outline(), fill="#ffffff", opacity=0.94)
        for step in range(1, 6):
            root, tip = fan.at(step / 6, 0.12), fan.at(step / 6, 0.94)
            both.line(*root, *tip, stroke="#00000066", stroke_width=0.012)
    view.ellipse(0, 0.12, 0.075, 0.36, fill="#8d8794")
    both.path(smooth([(0.02, -0.16), (0.1, -0.34), (0.22, -0.46)]), fill=None, stroke="#ffffff", stroke_width=0.016)


def bank(view, chance, count):
    """A bank at the bottom of the plate, and reeds bent by the wind."""
    land = chance.field(46, 3)
    for step, (foot, tint) in enumerate(((180, "#3f2650"), (191, "#281938"), (202, "#140e22"))):
        xs = np.linspace(0, 180, 120)
        ridge = foot + 15 * land.at(xs, 400.0 * (step + 1)) * (1 - 0.2 * step)
        view.path(smooth([*np.stack([xs, ridge], axis=1), (190, 240), (-10, 240)], closed=True, tension=1), fill=tint)
    wind = chance("wind").between(-16, 16)
    for index in range(count):
        own = chance("reed", index)
        x, y, tall = own.between(8, 172), own.between(211, 222), own.skewed(18, 66, 1.6)
        lean = own.bell(wind, 5)
        stem = smooth([(x, y), (x + lean * 0.18, y - tall * 0.5), (x + lean, y - tall)])
        view.path(stem.swelled([0.8, 0.55, 0.05]), fill="#0b0814")
        if own.odds(0.3):
            head = stem.part(0.86, 1)
            view.path(head.swelled([0.2, 2.0, 1.7, 0.1]), fill="#0b0814")
