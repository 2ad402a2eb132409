"""No edge shows. A turned background must be larger than the sheet: `bleed` gives it room, and the margin is an inset."""

from mothseed import Palette, artwork, dial


@artwork(width=100, height=100, paper="#f4efe4")
def edges(sheet, chance, *, turn=dial(24, -90, 90), margin=dial(9.0, 0, 30)):
    dusk = Palette(["#14213d", "#3d3a63", "#7d4f7f", "#d9715b", "#e8b44f"])
    wide = sheet.bleed(30)
    for band in wide.frame(turn=turn, pivot=(50, 50)).grid(1, 40):
        own = chance("band", band.index)
        band.rect(-band.width / 2, -band.height / 2, band.width, band.height + 0.1, fill=dusk.pick(own, label="ink"))
        band.line(-band.width / 2, 0, band.width / 2, 0, stroke="#f4efe4", stroke_width=own.skewed(0.05, 1.2, 3))
    room = sheet.inset(margin)
    room.rect(0, 0, room.width, room.height, fill=None, stroke="#f4efe4", stroke_width=1.2)
    sky = room.inset(14)
    sky.circle(*chance("moon").point(sky), 8, fill="#f4efe4")
