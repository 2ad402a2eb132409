"""Threads on the wind. A smooth field sets the direction, a swarm follows it, and all its trails are drawn at once."""

from mothseed import Palette, Swarm, artwork, dial


@artwork(width=100, height=100, paper="#141327")
def wind(sheet, chance, *, threads=dial(900, 10, 4000), scale=dial(46.0, 5, 120)):
    field = chance("wind").field(scale, detail=2)
    swarm = Swarm.within(sheet, threads, chance("start"))
    trails = swarm.trails(60, lambda movers: movers.along(field).step(0.5), every=6)
    colours = Palette.from_picture("dusk.png", count=7)
    tints = colours.ramp(0.15 + 0.85 * trails.fraction)
    sheet.polylines(trails.points, fill=None, stroke=tints, stroke_width=0.25, opacity=0.8)
