"""Motifs of the Night Register: wings, spots and bodies of moths that never existed.

A motif is a plain function that takes a view to draw on, a stream of chance, and arguments.
"""

import numpy as np

from mothseed import smooth
from mothseed.portable import cosine_and_sine, cosines_and_sines

# Reach of a forewing, from its leading edge round to its inner edge, for each form.
FORMS = {
    "hawk": [1.02, 0.96, 0.80, 0.66, 0.57, 0.52, 0.47],
    "owlet": [0.98, 1.00, 0.97, 0.92, 0.86, 0.76, 0.62],
    "plume": [1.00, 0.84, 0.98, 0.76, 0.88, 0.64, 0.56],
}


class Fan:
    """A wing as a fan about its root: `at(across, out)` is a point of it, both from 0 to 1.

    `across` runs from the leading edge to the inner edge, `out` from the root to the margin.
    """

    def __init__(self, first, last, reach, profile):
        self.first, self.last = first, last
        knots = np.linspace(0, 1, len(profile))
        self.fine = np.linspace(0, 1, 97)
        self.reaches = reach * _rounded(knots, np.array(profile), self.fine)

    def at(self, across, out):
        cosine, sine = cosines_and_sines(self.first + (self.last - self.first) * np.asarray(across, float))
        distance = np.interp(across, self.fine, self.reaches) * out
        return np.stack([cosine * distance, sine * distance], axis=-1)

    def line(self, out, start=0.0, end=1.0, count=25):
        """Points along the wing at one distance out, or at a distance each."""
        return self.at(np.linspace(start, end, count), out)

    def outline(self):
        return smooth([(0, 0), *self.line(1.0, count=17)], closed=True, tension=0.05)

    def band(self, inner, outer, count=25):
        """The area between two lines across the wing; each is one number or `count` of them."""
        return smooth([*self.line(outer, count=count), *self.line(inner, count=count)[::-1]], closed=True)


def _rounded(knots, values, places):
    """Values between knots, eased from one to the next."""
    segment = np.clip(np.searchsorted(knots, places, side="right") - 1, 0, len(knots) - 2)
    part = (places - knots[segment]) / (knots[segment + 1] - knots[segment])
    return values[segment] + (values[segment + 1] - values[segment]) * part * part * (3 - 2 * part)


def shade(view, outline, strength=0.011, reach=7.0, layers=22):
    """A soft shadow from faint layers, each a little thicker than the one before."""
    for layer in range(layers):
        view.path(
            outline, fill="#2a2036", stroke="#2a2036", stroke_width=reach * layer / layers, linejoin="round", opacity=strength
        )


def eyespot(view, radius, colours):
    """Rings around a pupil, with a glint of the lamp in it."""
    dark, iris, pale = colours
    view.circle(0, 0, radius * 1.22, fill=dark, opacity=0.55)
    view.circle(0, 0, radius, fill=pale)
    view.circle(0, 0, radius * 0.8, fill=iris)
    view.circle(0, 0, radius * 0.8, fill=None, stroke=dark, stroke_width=radius * 0.1)
    view.circle(radius * 0.06, radius * 0.05, radius * 0.44, fill=dark)
    view.circle(-radius * 0.16, -radius * 0.2, radius * 0.12, fill="#fffaf0")


def wing(view, chance, fan, tints, spots=0, scales=700):
    """One wing: ground, bands, veins, scales, spots and fringe, all within its fan."""
    ground, band, dark, pale = tints
    outline = fan.outline()
    view.path(outline, fill=ground)

    steps = np.linspace(0, 1, 25)
    waves = chance("waves")
    for inner, outer, colour, opacity in ((0.0, 0.34, dark, 0.5), (0.52, 0.66, band, 0.75), (0.80, 0.985, dark, 0.85)):
        wave = waves.between(0.008, 0.022) * (1 - np.abs((steps * waves.whole(4, 7) * 2) % 2 - 1)) * 2
        lean = waves.between(-0.05, 0.05) * (steps - 0.5)
        view.path(fan.band(np.clip(inner + wave + lean, 0, 1) * (inner > 0), np.clip(outer - wave * 0.4 + lean, 0, 0.985)),
                  fill=colour, opacity=opacity)  # fmt: skip
    for out, colour, width in ((0.50, dark, 0.35), (0.685, dark, 0.35), (0.765, pale, 0.7), (0.90, pale, 0.3)):
        ripple = 0.008 * (1 - np.abs((steps * 18) % 2 - 1))
        view.path(smooth(fan.line(out + ripple)), fill=None, stroke=colour, stroke_width=width, opacity=0.8, linecap="round")

    dust = chance("scales")
    across, out = dust.between(0.01, 0.99, size=scales), np.sqrt(dust.between(0.002, 0.93, size=scales))
    places = fan.at(across, out)
    bright = across + 0.12 * (out - 0.5) < dust.between(0, 1, size=scales)
    view.circles(places[:, 0], places[:, 1], dust.between(0.14, 0.46, size=scales), fill=[pale if b else dark for b in bright],
                 opacity=dust.between(0.06, 0.4, size=scales))  # fmt: skip

    for vein in range(9):
        along = fan.at(0.05 + 0.9 * vein / 8 + 0.03 * (np.linspace(0, 1, 5) - 0.5), np.linspace(0.05, 0.985, 5))
        view.path(smooth(along), fill=None, stroke=dark, stroke_width=0.32, opacity=0.6, linecap="round")

    if spots:
        for index, place in enumerate(fan.line(0.72, 0.2 if spots > 1 else 0.45, 0.8, spots)):
            size = chance("spot", index).between(0.75, 1.15) * min(5.2, 17 / (spots + 1.2))
            eyespot(view.frame(*place), size, (dark, band, pale))

    fringe = chance("fringe")
    tips = fringe.between(0.03, 1.0, size=640)
    foot, head = fan.at(tips, 0.975), fan.at(tips, fringe.between(0.995, 1.022, size=640))
    shades = fringe.pick([pale, dark, band], size=640)
    hairs = view.styled(stroke_width=0.2, opacity=0.7, linecap="round")
    hairs.lines(foot[:, 0], foot[:, 1], head[:, 0], head[:, 1], stroke=shades)
    view.path(outline, fill=None, stroke=dark, stroke_width=0.4, opacity=0.7)


def body(view, chance, length, tints):
    """Abdomen, thorax and head in fur, and two feathered antennae."""
    ground, band, dark, pale = tints
    both = view.mirrored()
    half = length * 0.1
    sides = [(half * 0.8, 0), (half, length * 0.2), (half * 0.86, length * 0.45), (half * 0.3, length * 0.72)]
    abdomen = smooth([*sides, (0, length * 0.76), *[(-x, y) for x, y in reversed(sides)]], closed=True)
    view.path(abdomen, fill=ground)
    for ring in range(9):
        y = length * (0.12 + 0.066 * ring)
        reach = half * np.interp(y / length, [0.0, 0.2, 0.45, 0.72], [0.8, 1.0, 0.86, 0.3])
        view.path(
            smooth([(-reach, y - 0.7), (0, y + 0.9), (reach, y - 0.7)]), fill=None, stroke=dark, stroke_width=1.3, opacity=0.55
        )
        view.path(
            smooth([(-reach, y + 0.1), (0, y + 1.7), (reach, y + 0.1)]), fill=None, stroke=pale, stroke_width=0.35, opacity=0.6
        )
    view.path(abdomen, fill=None, stroke=dark, stroke_width=0.4)

    view.circle(0, -length * 0.19, length * 0.085, fill=dark)
    both.circle(length * 0.06, -length * 0.2, length * 0.034, fill="#1b1522", stroke=pale, stroke_width=0.25)
    view.ellipse(0, 0, length * 0.125, length * 0.165, fill=ground)
    fur = chance("fur")
    hairs = 900
    cosine, sine = cosines_and_sines(fur.turn(size=hairs))
    out = np.sqrt(fur.between(0, 1, size=hairs))
    x, y = cosine * out * length * 0.12, sine * out * length * 0.16
    comb = fur.between(0.5, 1.0, size=hairs)
    shades = fur.pick([ground, pale, band, dark], weights=[3, 3, 3, 2], size=hairs)
    view.lines(x, y, x * (1 + 0.28 * comb), y + 3.4 * comb - 1.2 * (1 - out), stroke=shades, stroke_width=0.28, opacity=0.75,
               linecap="round")  # fmt: skip

    feeler = [
        (length * 0.03, -length * 0.25),
        (length * 0.1, -length * 0.44),
        (length * 0.19, -length * 0.66),
        (length * 0.34, -length * 0.84),
    ]
    both.path(smooth(feeler), fill=None, stroke=dark, stroke_width=0.55, linecap="round")
    for tooth in range(34):
        part = tooth / 33
        x, y = _along(feeler, part)
        reach = length * 0.075 * (1.1 - abs(part - 0.5)) * min(1, 4 * (1.03 - part))
        for heading in (-22 - 24 * part, 158 + 50 * part):
            cosine, sine = cosine_and_sine(heading)
            both.line(x, y, x + cosine * reach, y + sine * reach, stroke=dark, stroke_width=0.2, opacity=0.9, linecap="round")


def study(view, fan, ink):
    """A wing in fine lines, as somebody would draw it beside the plate."""
    view.path(fan.outline(), fill=None, stroke=ink, stroke_width=0.35, linejoin="round")
    for vein in range(9):
        along = fan.at(0.05 + 0.9 * vein / 8 + 0.03 * (np.linspace(0, 1, 5) - 0.5), np.linspace(0.05, 0.985, 5))
        view.path(smooth(along), fill=None, stroke=ink, stroke_width=0.18)
    for out in (0.5, 0.72, 0.9):
        view.path(smooth(fan.line(out)), fill=None, stroke=ink, stroke_width=0.14, opacity=0.7)


def _along(points, part):
    """A point part of the way along a few points, by their index."""
    places = np.array(points)
    index = part * (len(places) - 1)
    return tuple(np.interp(index, range(len(places)), places[:, axis]) for axis in (0, 1))
