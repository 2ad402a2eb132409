"""A garden lattice: each lath is the trail of one walk, and something rests at its corners."""

from drawer import moth
from moth import FORMS, shade

from mothseed import Palette, Trail, artwork, dial, ngon, smooth, soft_shadow
from mothseed.portable import cosine_and_sine


@artwork(width=200, height=200, unit="mm", paper="#ebe4d3", light=55)
def lattice(
    sheet,
    chance,
    *,
    laths=dial(6, 2, 16, help="laths from each side"),
    bend=dial(62, -80, 80, help="degrees that a lath bends between crossings"),
    resting=dial(0.3, 0, 1, help="odds that a moth rests on a crossing"),
):
    lichen = Palette.from_picture("lichen.png", count=9)
    ground(sheet, chance("ground"), lichen)
    step = sheet.width / laths
    crossings = []
    for side, wood in enumerate((lichen[0], lichen[1])):
        view = sheet.frame(turn=90 * side, pivot=(sheet.across(0.5), sheet.down(0.5)))
        for lath in range(-1, laths + 1):
            trail = wave(Trail(-step, (lath + 0.5) * step, heading=bend / 2), step / 2, bend, 2 * laths + 5)
            view.path(
                trail.outline, fill=None, stroke=wood, stroke_width=step * 0.11, shadow=soft_shadow(1.6, 2.4, "#2a2418", 0.5)
            )
            view.path(trail.outline, fill=None, stroke="#fff6df", stroke_width=step * 0.016, opacity=0.45)
            if side:
                # Every other corner of a lath lies where one from the other side crosses it.
                crossings += [(view, corner) for corner in trail.corners[1::2]]

    for index, (view, corner) in enumerate(crossings):
        own = chance("crossing", index)
        place = view.frame(corner.x, corner.y)
        rosette(place, own("rosette"), step * 0.13, lichen)
    for index, (view, corner) in enumerate(crossings):
        own = chance("crossing", index)
        if own("resting").odds(resting):
            place = view.frame(corner.x, corner.y, turn=own("turn").turn(step=15))
            moth(place, own("moth"), step * own("size").between(0.34, 0.5), FORMS[own("form").pick(list(FORMS))], lichen)


def wave(trail, half, bend, count):
    """A trail gone on with by bends to one side and the other in turns, each `half` long from end to end."""
    for turn in range(count):
        if bend:
            radius = half / (2 * cosine_and_sine(abs(bend) / 2)[1])
            trail = trail.bend(radius, bend if turn % 2 else -bend)
        else:
            trail = trail.walk(half)
    return trail


def ground(sheet, chance, palette):
    """What is seen through the lattice: leaves, out of focus."""
    for place in sheet.bleed(10).scatter(260, chance, gap=6):
        own = chance("leaf", place.index)
        size = own.between(6, 15)
        leaf = smooth([(0, -size), (size * 0.42, -size * 0.2), (0, size), (-size * 0.42, -size * 0.2)], closed=True)
        place.frame(turn=own.turn()).path(
            leaf, fill=own.pick([palette[3], palette[4], palette[5], palette[6]]), opacity=own.between(0.06, 0.3)
        )


def rosette(view, chance, size, palette):
    """Petals, turned round each other in three rings, on a crossing."""
    shade(view.frame(0.4, 0.6), ngon(12, radius=size * 0.9), strength=0.03, reach=1.4, layers=6)
    for ring, (count, reach) in enumerate(((10, 1.0), (8, 0.72), (5, 0.44))):
        petal = smooth(
            [
                (0, -size * reach),
                (size * reach * 0.26, -size * reach * 0.55),
                (0, 0),
                (-size * reach * 0.26, -size * reach * 0.55),
            ],
            closed=True,
        )
        petals = view.frame(turn=ring * 18 + chance.bell(0, 4)).spun(count)
        petals.path(petal, fill=palette[(2, 7, 8)[ring]], stroke=palette[0], stroke_width=0.12)
    view.circle(0, 0, size * 0.14, fill=palette[1])
