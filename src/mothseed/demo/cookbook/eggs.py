"""A clutch of eggs. Circles are packed wherever there is room, largest where a field is high, and drawn as eggs."""

from mothseed import Palette, artwork, dial, linear_ramp, smooth


def egg(view, chance, tint):
    r = view.radius
    side = [(0.42 * r, -0.74 * r), (0.73 * r, 0), (0.62 * r, 0.6 * r)]
    shape = smooth([(0, -r), *side, (0, 0.93 * r), *((-x, y) for x, y in side[::-1])], closed=True).turned(chance.turn())
    view.path(shape.moved(0.06 * r, 0.08 * r), fill="#2a2320", opacity=0.35)
    view.path(shape, fill=linear_ramp((-r, -r), (r, r), [tint, "#f6efdf"]))
    spots = view.clipped(shape)
    for _ in range(int(3 + 5 * r)):
        spots.circle(*chance.point((0, 0, r)), chance.skewed(0.02, 0.13, 3) * r, fill="#4a2f2a", opacity=0.7)


@artwork(width=100, height=100, paper="#5b4636")
def eggs(sheet, chance, *, count=dial(420, 10, 900), largest=dial(8.5, 2, 16)):
    tints = Palette(["#9db8b0", "#c9b98f", "#d8a27c", "#b7a7b4"])
    hills = chance("hills").field(45)
    for straw in range(260):
        own = chance("straw", straw)
        x, y = own.point(sheet)
        sheet.frame(x, y, turn=own.turn()).line(
            0, 0, own.between(6, 22), 0, stroke="#8a6d4d", stroke_width=own.between(0.15, 0.5)
        )

    def size(x, y):
        return 1.4 + largest * max(0.4 + hills.at(x, y), 0)

    for place in sheet.packed(count, chance("pack"), 0.9, largest, gap=0.2, area=(50, 50, 47), size=size):
        egg(place, chance("egg", place.index), tints.pick(chance("tint", place.index)))
