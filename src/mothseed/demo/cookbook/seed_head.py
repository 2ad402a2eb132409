"""A seed head. The golden angle puts each seed where there is most room; size and colour follow its number."""

from mothseed import Palette, artwork, dial, mix


@artwork(width=100, height=100, paper="#1b2440")
def seed_head(sheet, chance, *, seeds=dial(620, 10, 2000), spacing=dial(1.85, 0.5, 5)):
    tints = Palette(["#fff3cf", "#e8b44f", "#d9715b", "#7d4f7f", "#3a4a83"])
    for place in sheet.centred().spiral(seeds, spacing, kind="phyllotaxis"):
        part = place.index / seeds
        seed = place.frame(turn=chance("turn", place.index).bell(0, 6))
        seed.ellipse(0, 0, mix(0.5, 1.05, part), mix(0.6, 2.3, part), fill=tints.ramp(part))
        seed.line(0, -mix(0.6, 2.3, part), 0, -mix(1, 3.6, part), stroke="#f4efe4", stroke_width=0.12)
