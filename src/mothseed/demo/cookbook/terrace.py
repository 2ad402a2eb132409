"""A terrace at night. Each house is a box, and whatever is drawn on one of its faces lies on that face."""

from mothseed import Palette, artwork, dial, linear_ramp, mixed

WALLS = Palette(["#39506e", "#5a4a75", "#7d4f6f", "#8c5a58", "#4c5f63"])


@artwork(width=100, height=100, paper=linear_ramp((0, 0), (0, 100), ["#10162b", "#2b2a4f", "#6b4668"]))
def terrace(sheet, chance, *, rows=dial(9, 3, 14), lit=dial(0.3, 0, 1)):
    side = 54 / rows
    for row in range(2 * rows - 1):
        for house in range(rows - abs(row - rows + 1)):
            x = 50 + (2 * house - rows + abs(row - rows + 1) + 1) * side * 0.866
            own = chance("house", row, house)
            storeys = own.whole(1, 5)
            place = sheet.frame(x, 36 + (row + 1) * side / 2)
            top, front, gable = place.faces(side, side, storeys * side * 0.45)
            wall = own.jittered(0, 0.08) + own.pick([0.1, 0.35, 0.6, 0.85])
            tint = WALLS.ramp(wall)
            for face, shade in ((top, 0.35), (front, 0.0), (gable, -0.35)):
                fill = mixed(tint, "#f0c9a0" if shade > 0 else "#0c1022", abs(shade))
                face.rect(0, 0, face.width, face.height, fill=fill, stroke="#0c1022", stroke_width=0.15)
            for wing in (front, gable):
                for window in wing.grid(2, storeys):
                    glow = "#f7d98a" if own.odds(lit) else "#141a33"
                    window.rect(-side * 0.13, -side * 0.12, side * 0.26, side * 0.22, fill=glow)
