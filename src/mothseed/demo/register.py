"""A page of the register: each wing drawn in one of several techniques, on a page that shows more or less wear."""

from moth import FORMS, Fan, eyespot

from mothseed import Palette, artwork, dial, linear_ramp


@artwork(width=180, height=240, unit="mm", paper="#f3ecdf")
def register(
    sheet,
    chance,
    *,
    cols=dial(4, 1, 8),
    rows=dial(5, 1, 10),
    wear=dial(0.5, 0, 1, help="odds of each trace of use: a stain, a ruled page, a pressed leaf"),
    veer=dial(9, 0, 60, help="degrees that a wing may lie off"),
):
    dusk, lichen = Palette.from_picture("dusk.png", 7), Palette.from_picture("lichen.png", 6)
    page = sheet.inset(14)
    for trace in chance.chosen({ruling: wear, stain: wear, leaf: wear / 2}):
        trace(page, chance(trace.__name__), dusk)

    for cell in page.frame(0, 14).grid(cols, rows, height=page.height - 14, gap=3):
        own = chance("wing", cell.index)
        form = own("form").pick(sorted(FORMS))
        wing = Fan(-34, 34, 1, FORMS[form])
        size = min(cell.width, cell.height) * own("size").triangular(0.84, 1.0)
        place = cell.frame(-size * 0.48, -2, turn=own("veer").bell(0, veer / 2), scale=size, keep_strokes=True)
        technique = own("technique").pick(TECHNIQUES, label="technique")
        tints = (dusk if own("dusk").odds(0.7) else lichen).swatches
        technique(place, own("hand"), wing, tints)
        place.path(wing.outline(), fill=None, stroke=dusk[0], stroke_width=0.35, linejoin="round")
        cell.text(0, cell.height / 2, f"{cell.index + 1:02}", 3, align="middle", italic=True, fill=dusk[1])
    sheet.text(14, 21, "Night Register", 8, italic=True, fill=dusk[0])
    sheet.text(166, 21, f"page {chance('page').whole(2, 97)}", 5, align="end", italic=True, fill=dusk[1])


def hatching(view, hand, wing, tints):
    """Two layers of strokes across, the second here and there."""
    ink = view.clipped(wing.outline()).styled(stroke=tints[1], stroke_width=0.22, linecap="round")
    for step in range(38):
        y = -0.7 + step * 0.037
        ink.line(0, y + hand.bell(0, 0.006), 1.1, y + 0.34 + hand.bell(0, 0.006), opacity=0.9)
        if hand.odds(0.55):
            ink.line(0.35 + hand.between(0, 0.3), y + 0.7, 1.1, y + 0.2, opacity=0.6)


def stipple(view, hand, wing, tints):
    """Dots, thicker towards the margin."""
    within = view.clipped(wing.outline())
    for _ in range(420):
        x, y = wing.at(hand.between(0, 1), hand.skewed(0, 1, 0.45))
        within.circle(x, y, hand.skewed(0.005, 0.02, 2), fill=hand.pick(tints[:4]))


def ribs(view, hand, wing, tints):
    """Veins from the root outwards, and bands across them."""
    for step in range(5):
        band = wing.band(0.3 + step * 0.14, 0.38 + step * 0.14)
        view.path(band, fill=tints[(step + 2) % len(tints)], opacity=0.85)
    for step in range(14):
        ends = [wing.at(step / 13, out) for out in (0.05, 0.99)]
        view.line(*ends[0], *ends[1], stroke=tints[0], stroke_width=0.2)


def wash(view, hand, wing, tints):
    """Colour let run from the root to the margin, and once more."""
    view.path(wing.outline(), fill=linear_ramp((0, 0), (1, 0), [tints[-1], tints[3], tints[1]]), opacity=0.9)
    for _ in range(7):
        x, y = wing.at(hand.between(0.1, 0.9), hand.between(0.3, 0.9))
        view.clipped(wing.outline()).circle(x, y, hand.between(0.06, 0.22), fill=tints[2], opacity=0.16)


def gazing(view, hand, wing, tints):
    """A great eye, rare."""
    view.path(wing.outline(), fill=tints[3])
    x, y = wing.at(0.45, 0.62)
    eyespot(view.frame(x, y, scale=0.05, keep_strokes=True), 3.2, (tints[0], tints[-2], tints[-1]))


TECHNIQUES = {hatching: 5, stipple: 4, ribs: 4, wash: 3, gazing: 1}


def ruling(view, hand, palette):
    """Lines to write on."""
    for y in range(16, int(view.height), 4):
        view.line(0, y, view.width, y, stroke=palette[1], stroke_width=0.1, opacity=0.45)


def stain(view, hand, palette):
    """Where a cup stood."""
    x, y = hand.point(view.inset(20))
    for _ in range(24):
        radius = hand.bell(21, 0.7)
        view.arc(x + 20, y + 20, radius, hand.turn(), hand.between(60, 300), stroke=palette[4], stroke_width=0.8, opacity=0.08)


def leaf(view, hand, palette):
    """A leaf that was pressed and left its shadow."""
    x, y = hand.point(view.inset(30))
    place = view.frame(x + 30, y + 30, turn=hand.turn())
    veins = place.styled(stroke="#7d9f86", stroke_width=0.3, opacity=0.6, linecap="round")
    veins.line(-26, 0, 22, 0)
    for step in range(26):
        reach = 12 * (1 - ((step - 11) / 15) ** 2) ** 0.5
        for side in (-1, 1):
            veins.frame(step * 1.6 - 20, 0, turn=side * 48).line(0, 0, reach, 0)
