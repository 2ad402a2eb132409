"""Reeds. A line swells and tapers along a list of widths, from its start to its end."""

from mothseed import Palette, artwork, dial, smooth


@artwork(width=100, height=100, paper="#e9d9b8")
def reeds(sheet, chance, *, count=dial(150, 10, 400), wind=dial(14, -30, 30)):
    water = Palette(["#c9b98f", "#8fa07c", "#4e6b5c", "#22383b"])
    sheet.circle(64, 30, 13, fill="#d9715b")
    for reed in range(count):
        own, near = chance("reed", reed), reed / count
        x, height = own.between(-6, 106), own.bell(38 + 34 * near, 9)
        lean = own.bell(wind, 5) * height / 60
        stem = smooth([(x, 104), (x + lean * 0.1, 104 - height * 0.5), (x + lean, 104 - height)])
        sheet.path(stem.swelled([0.3 + near, 0.5 + near * 1.3, 0]), fill=water.ramp(near))
        if own.odds(0.22):
            tip = stem.at(0.93)
            head = sheet.frame(tip.x, tip.y, turn=tip.heading)
            head.path(smooth([(0, 0), (5, 0)]).swelled([0.7 + near, 1.4 + near, 1.5 + near, 1.3 + near, 0.4]), fill="#5a3b2e")
