"""Cards in the lamplight. One light for all: every soft shadow falls the same way, and farther from cards that lie higher."""

from mothseed import Palette, artwork, dial, soft_shadow


@artwork(width=100, height=100, paper="#d8cdb8", light=60)
def cards(sheet, chance, *, count=dial(26, 1, 60), shadow=dial(True)):
    tints = Palette(["#f4efe4", "#e8dcc4", "#9fb08d", "#d9715b", "#3a4a63"])
    table = sheet.inset(14)
    for card in range(count):
        own = chance("card", card)
        height = 0.4 + card / count * 3
        lying = table.frame(*own.point(table), turn=own.turn(step=15))
        lying.rect(
            -9, -13, 18, 26, radius=1.2, fill=tints.pick(own), shadow=soft_shadow(height, height * 1.3) if shadow else None
        )
        lying.rect(-7.4, -11.4, 14.8, 22.8, fill=None, stroke="#22203a", stroke_width=0.2, opacity=0.5)
