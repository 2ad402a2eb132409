"""Shards. A picture is cut into tiles, which have drifted farther the farther they are from the lamp."""

from mothseed import artwork, dial, soft_shadow


@artwork(width=100, height=100, paper="#e9dfcc")
def shards(sheet, chance, *, tiles=dial(14, 3, 40), drift=dial(0.12, 0, 0.5)):
    plate = sheet.inset(16)
    lamp_x, lamp_y = 0.655 * plate.width, 0.42 * plate.height
    shade = soft_shadow(0.5, 0.9, "#3a2418", 0.45)
    for number, tile in enumerate(plate.picture("dusk.png").tiles(tiles, tiles)):
        own = chance("tile", number)
        x, y = tile.centre
        far = max(((x - lamp_x) ** 2 + (y - lamp_y) ** 2) ** 0.5 - 12, 0) * drift
        wind = chance("wind").field(30)
        plate.stamp(
            x + far * own.bell(0.25, 0.5),
            y + far * own.bell(-0.1, 0.5),
            tile,
            turn=far * (own.bell(0, 4) + 14 * wind.at(x, y)),
            shadow=shade if far else None,
        )
