"""A motif called with arguments. It is written once, at (0, 0); each call gives it a different size, tint and pose."""

from mothseed import Palette, artwork, dial, mix, smooth


def moth(view, size, tint, spread):
    both = view.frame(scale=size).mirrored()
    both.frame(turn=-spread).path(smooth([(0, 0), (9, -7), (11, -2), (4, 3)], closed=True), fill=tint)
    both.path(smooth([(0, 1), (7, 3), (5, 8), (1, 5)], closed=True), fill=tint, opacity=0.75)
    both.frame(turn=-spread).circle(7.4, -3.4, 1, fill="#f4efe4")
    view.ellipse(0, 1.5 * size, 0.9 * size, 3.6 * size, fill="#22203a")


@artwork(width=100, height=100, paper="#f4efe4")
def rows(sheet, chance, *, count=dial(7, 2, 12)):
    tints = Palette(["#14213d", "#7d4f7f", "#d9715b", "#e8b44f"])
    for cell in sheet.inset(6).grid(count, count):
        part = cell.index / (count * count - 1)
        pose = cell.frame(turn=chance("pose", cell.index).bell(0, 9))
        moth(pose, mix(0.22, 0.52, part), tints.ramp(part), mix(20, -14, part))
