"""Vines on a wall. A trail walks, bends and remembers its corners; a leaf grows at each."""

from mothseed import Palette, Trail, artwork, dial, smooth

LEAF = smooth([(0, 0), (3, -2.4), (7.5, 0), (3, 2.4)], closed=True)


@artwork(width=100, height=100, paper="#efe9da")
def vines(sheet, chance, *, count=dial(9, 1, 20)):
    greens = Palette(["#2f4a43", "#4e6b5c", "#7d9f86", "#b0a35e"])
    for vine in range(count):
        own = chance("vine", vine)
        trail = Trail(100 / count * (vine + 0.5), 104, heading=-90)
        while trail.y > 4:
            trail = trail.walk(own.between(3, 6)).bend(own.between(3, 5), own.between(-70, 70)).face(own.bell(-90, 18))
        sheet.path(trail.outline, fill=None, stroke=greens[0], stroke_width=0.5, linejoin="round")
        for number, corner in enumerate(trail.corners):
            side = 55 if number % 2 else -55
            leaf = sheet.frame(corner.x, corner.y, turn=corner.heading + side, scale=own.between(0.5, 0.95))
            leaf.path(LEAF, fill=greens.pick(own))
