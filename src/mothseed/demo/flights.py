"""Flights: paths through the dark on a random wind, in the colours of an evening."""

from mothseed import Swarm, artwork, dial


@artwork(width=240, height=160, unit="mm", paper="#0f0e22")
def flights(
    sheet,
    chance,
    *,
    count=dial(3200, 10, 20_000, help="how many fly"),
    steps=dial(150, 10, 600, help="how far each of them flies"),
    weight=dial(0.25, 0.01, 1, help="how soon the wind turns them: heavy ones are slow to turn"),
    hills=dial(62, 10, 200, help="how far apart the eddies of the wind are"),
):
    evening = sheet.picture("dusk.png")
    sky = sheet.inset(7)
    wind = chance("wind").field(hills, detail=2)
    swarm = Swarm.within(sky, count, chance("start"))
    trails = swarm.trails(steps, lambda swarm: swarm.along(wind, weight).step(0.4), every=6)

    tint = evening.at(trails.x, trails.y)
    near = sky.styled(stroke_width=0.22, linecap="round", fill=None)
    near.polylines(trails.points, stroke=tint, opacity=0.2 + 0.5 * trails.fraction)
    sheet.note("pieces", len(trails.points))
