"""A weave of washes. Multiplied inks darken where they cross, as on paper."""

from mothseed import Palette, artwork, dial


@artwork(width=100, height=100, paper="#f4efe4")
def weave(sheet, chance, *, count=dial(16, 2, 40), slack=dial(1.2, 0.0, 6.0)):
    inks = Palette(["#7fa0b5", "#d9a07f", "#e8cf8f", "#9fb08d"])
    cloth = sheet.styled(blend="multiply")
    side = sheet.width / count
    for thread in range(count):
        for way in range(2):
            own = chance("thread", way, thread)
            laid = cloth.frame(turn=90 * way, pivot=(50, 50))
            tint, width = inks.pick(own("ink"), label="ink"), side * own.between(0.45, 1.05)
            for strand in range(5):
                y = side * (thread + 0.5) + (strand / 4 - 0.5) * width + own.bell(0, slack * 0.2)
                laid.line(-2, y + own.bell(0, slack), 102, y + own.bell(0, slack), stroke=tint, stroke_width=width / 5)
