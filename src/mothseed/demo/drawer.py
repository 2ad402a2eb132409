"""A drawer of the register: many small moths on pins, each one a call of the same motif."""

from moth import FORMS, Fan, shade

from mothseed import Palette, artwork, dial, smooth


@artwork(width=240, height=180, unit="mm", paper="#e9e1d0")
def drawer(
    sheet,
    chance,
    *,
    cols=dial(9, 1, 24, help="moths in a row"),
    rows=dial(6, 1, 24, help="rows of the drawer"),
    step=dial(5, 0, 45, help="degrees that each moth is turned on from the one before it in its row"),
    gone=dial(0.08, 0, 1, help="odds that a place is empty"),
):
    lichen = Palette.from_picture("lichen.png", count=9)
    sheet.rect(0, 0, sheet.width, sheet.height, fill="#4b3b33")
    grain = chance("grain")
    for _ in range(90):
        y = grain.between(0, sheet.height)
        bow = [(x, y + grain.bell(0, 0.5)) for x in range(-10, 290, 30)]
        sheet.path(
            smooth(bow), fill=None, stroke=grain.pick(["#2f241f", "#6a5446"]), stroke_width=grain.between(0.1, 0.6), opacity=0.4
        )
    lining = sheet.inset(7)
    lining.rect(0, 0, lining.width, lining.height, fill="#efe8d8")
    for rim in range(14):
        lining.rect(0, 0, lining.width, lining.height, fill=None, stroke="#2b211c", stroke_width=0.3 + rim * 0.5, opacity=0.03)

    for cell in lining.inset(5).grid(cols, rows, gap=1.5):
        cell.rect(
            -cell.width / 2, -cell.height / 2, cell.width, cell.height, fill="#f6f0e3", stroke="#c9bda6", stroke_width=0.2
        )
        own = chance("moth", cell.row, cell.col)
        size = min(cell.width, cell.height * 1.15)
        if own("gone").odds(gone):
            cell.circle(0, -size * 0.06, 0.35, fill="#8d8069")
            continue
        form = own("form").pick(list(FORMS), weights=[3, 5, 1])
        turned = cell.frame(0, -size * 0.06, turn=step * (cell.col - (cols - 1) / 2))
        moth(turned, own, size * 0.47, FORMS[form], lichen)
        label(cell.frame(0, cell.height * 0.36), own("label"), size)


def moth(view, chance, reach, profile, palette):
    """A small moth: four wings, bands across them, a body and its pin."""
    tints = chance("tint").several(palette.swatches, 4)
    dark, ground, band, pale = sorted(tints, key=lambda colour: colour.red + colour.green + colour.blue)
    fore = Fan(-52, 16, reach, [r * chance("profile", i).between(0.94, 1.06) for i, r in enumerate(profile)])
    hind = Fan(-4, 72, reach * 0.68, [0.85, 0.97, 1.0, 0.97, 0.92, 0.82, 0.6])
    both = view.mirrored()
    shade(view.frame(0.4, 0.8).mirrored(), fore.outline(), strength=0.02, reach=1.8, layers=9)
    for fan, main, stripe in ((hind, band, ground), (fore, ground, band)):
        both.path(fan.outline(), fill=main)
        both.path(fan.band(0.0, 0.3), fill=dark, opacity=0.45)
        both.path(fan.band(0.55, chance("stripe").between(0.62, 0.76)), fill=stripe, opacity=0.8)
        both.path(fan.band(0.84, 0.98), fill=dark, opacity=0.8)
        both.path(smooth(fan.line(0.9)), fill=None, stroke=pale, stroke_width=0.16, opacity=0.9)
        both.path(fan.outline(), fill=None, stroke=dark, stroke_width=0.18)
    for x, y in fore.line(0.7, 0.3, 0.7, chance("spots").whole(1, 3)):
        both.circle(x, y, reach * 0.085, fill=pale, stroke=dark, stroke_width=0.2)
        both.circle(x, y, reach * 0.04, fill=dark)
    view.ellipse(0, reach * 0.22, reach * 0.075, reach * 0.34, fill=dark)
    view.ellipse(0, -reach * 0.02, reach * 0.11, reach * 0.15, fill=ground, stroke=dark, stroke_width=0.15)
    feeler = smooth([(reach * 0.03, -reach * 0.14), (reach * 0.14, -reach * 0.32), (reach * 0.34, -reach * 0.46)])
    both.path(feeler, fill=None, stroke=dark, stroke_width=0.22, linecap="round")
    view.circle(0.12, 0.18, 0.52, fill="#3a3128", opacity=0.4)
    view.circle(0, 0, 0.42, fill="#d9d2c3")
    view.circle(-0.1, -0.12, 0.15, fill="#ffffff")


def label(view, chance, size):
    """A slip of paper with lines of writing too small to read."""
    view.rect(-size * 0.2, -size * 0.055, size * 0.4, size * 0.11, fill="#fffdf6", stroke="#b9ac93", stroke_width=0.12)
    for line in range(2):
        y = size * (-0.018 + 0.036 * line)
        view.line(-size * 0.16, y, size * chance.between(0.02, 0.16), y, stroke="#6c6154", stroke_width=0.22)
