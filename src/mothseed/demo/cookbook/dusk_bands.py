"""An evening in bands. The colours come from a picture, and each band is as wide as its colour's share."""

from mothseed import Palette, artwork, dial


@artwork(width=100, height=100, paper="#17152a")
def dusk_bands(sheet, chance, *, count=dial(9, 2, 16)):
    evening = Palette.from_picture("dusk.png", count=count)
    y = 0
    for place, (swatch, share) in enumerate(zip(evening, evening.shares, strict=True)):
        height = share * sheet.height
        sheet.rect(0, y, sheet.width, height + 0.1, fill=swatch)
        for line in range(int(height * 2.2)):
            own = chance("line", place, line)
            start, end = sorted(own.between(0, 100, size=2))
            sheet.line(start, y + own.between(0, height), end, y + own.between(0, height), stroke="#f4efe4",
                       stroke_width=0.12, opacity=0.25)  # fmt: skip
        y += height
    sheet.circle(66, 38, 6, fill="#fbe7c0")
