"""A drawer with labels. Text is a shape like any other; the number is the index of the cell."""

from mothseed import artwork, dial, smooth, soft_shadow

FIRST, SECOND = ["Pale", "Lesser", "Ashen", "Late", "Veiled", "Lantern"], ["Owlet", "Plume", "Hawk", "Wainscot", "Sallow"]
WING = smooth([(0, 0), (7, -5.5), (8.6, -1.2), (3, 2.6)], closed=True)


@artwork(width=100, height=100, paper="#efe6d3")
def labels(sheet, chance, *, cols=dial(4, 1, 6), rows=dial(5, 1, 8)):
    for cell in sheet.inset(7).grid(cols, rows, gap=2):
        own = chance("moth", cell.index)
        cell.rect(
            -cell.width / 2, -cell.height / 2, cell.width, cell.height, fill="#f8f3e6", stroke="#b9ab8c", stroke_width=0.2
        )
        tint = own.colour(lightness=(0.4, 0.7), chroma=(0.04, 0.1), hue=(20, 110))
        pinned = cell.frame(0, -1.6, turn=own.bell(0, 5), scale=0.85).mirrored()
        pinned.path(WING, fill=tint, shadow=soft_shadow(0.6, 0.8))
        pinned.circle(5, -1.8, 0.8, fill="#22203a")
        name = f"{own.pick(FIRST)} {own.pick(SECOND)}"
        cell.text(0, cell.height / 2 - 2.6, name, 2.2, italic=True, align="middle", fill="#22203a")
        cell.text(0, cell.height / 2 - 0.8, f"no. {cell.index + 1}", 1.5, align="middle", fill="#7a6f5a")
