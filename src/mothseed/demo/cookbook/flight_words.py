"""Words along a flight. The baseline of the lettering follows an outline, letter by letter."""

from mothseed import Palette, artwork, dial, lettering, smooth

NAMES = ("plume", "hawk", "owlet", "emerald", "lichen carpet", "drinker", "ermine", "footman", "tiger", "lackey")


@artwork(width=100, height=100, paper="#141c2e")
def flight_words(sheet, chance, *, lines=dial(19, 4, 40), size=dial(3.6, 2, 8)):
    dusk = Palette(["#3d5a80", "#7d4f7f", "#d9715b", "#e8b44f", "#f4efe4"])
    wind = chance("wind").field(55)
    for line in range(lines):
        start = 6 + line * 96 / lines
        way = smooth([(x, start + 9 * wind.at(x, start)) for x in range(-10, 116, 7)])
        own, height = chance("names", line), size * (0.7 + 0.6 * line / lines)
        words = own.pick(NAMES)
        while lettering(words, height).bounds.width < way.length - 5 * height:
            words += "   " + own.pick(NAMES)
        way = way.continued(way.moved(140, 0))  # room for the last name
        sheet.path(lettering(words, height, along=way), fill=dusk.ramp(line / (lines - 1)))
    sheet.circle(78, 20, 7, fill="#f4efe4")
