"""Drawn to the light. Each moth finds the nearest point of an outline and settles on the way there."""

from mothseed import Palette, artwork, dial, distance, smooth, star

WING = smooth([(0, 0), (3.4, -3.2), (4.4, -0.6), (1.6, 1.6)], closed=True)


@artwork(width=100, height=100, paper="#10182a")
def drawn_in(sheet, chance, *, count=dial(420, 20, 1500), pull=dial(0.55, 0, 1)):
    dusk = Palette(["#f4efe4", "#e8b44f", "#d9715b", "#7d4f7f", "#3d5a80"])
    lamp = smooth(star(5, 30, 13).moved(50, 51).points, closed=True)
    for step in range(14, 0, -1):
        sheet.path(lamp.grown(step * 0.9 - 8), fill="#e8b44f", opacity=0.035)
    for number, (x, y) in enumerate(chance("places").point(sheet, size=count).tolist()):
        goal, own = lamp.nearest(x, y), chance("pull", number)
        part = own.between(0, pull) ** 0.5
        here = (x + (goal.x - x) * part, y + (goal.y - y) * part)
        away = distance(*here, goal.x, goal.y)
        pose = sheet.frame(*here, turn=goal.heading + own.bell(0, 14), scale=0.3 + 0.25 * own.skewed(0, 1, 2))
        pose.mirrored().path(WING, fill=dusk.ramp(min(away / 22, 1)), opacity=0.85)
