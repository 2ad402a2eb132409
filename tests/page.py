"""A page with every kind of shape, frame, paint and group, to hold ways of showing it against each other."""

from __future__ import annotations

from typing import Any

import numpy as np

from mothseed import Colour, annulus, linear_ramp, ngon, radial_ramp, smooth, soft_shadow, star
from mothseed.sheet import Sheet
from mothseed.sheet.blends import BLENDS
from tests.places import DEMO

WING = smooth([(0, 0), (9, -8), (11, -2), (4, 3)], closed=True)


def page_of_everything(paper: str | None = "#f4efe4") -> Sheet:
    """Every kind of shape, frame, paint and group."""
    sheet = Sheet(120, 80, "mm", Colour.parse(paper) if paper else Colour(0, 0, 0, 0), light=30)
    dusk = sheet.picture(DEMO / "dusk.png")
    cells = list(sheet.grid(8, 5))
    ink: dict[str, Any] = {"stroke": "#22203a", "stroke_width": 0.7}
    night = linear_ramp((-6, -6), (6, 6), ["#14213d", "#d9715b99", "#e8b44f"], at=[0.1, 0.6, 0.8])
    cells[0].circle(0, 0, 5, fill="#d9715b80", **ink)
    cells[1].frame(turn=20).ellipse(0, 0, 6, 3, fill=night)
    cells[2].frame(turn=-12, scale=0.8).rect(-6, -5, 12, 10, radius=2, fill="teal", **ink)
    cells[3].frame(skew=25).circle(0, 0, 5, fill=radial_ramp((1, 1), 5, ["#fff3cf", "#7d4f7f00"]), **ink)
    cells[4].frame(skew=-20, scale=0.7).rect(-6, -5, 12, 10, fill=night, dash=(2, 1), **ink)
    cells[5].frame(scale=3, keep_strokes=True).line(-1.5, -1, 1.5, 1, linecap="round", stroke="#22203a", stroke_width=2)
    cells[6].polyline([(-6, 5), (-2, -5), (2, 5), (6, -5)], fill=None, linejoin="round", linecap="square", **ink)
    cells[7].polygon([(-6, 5), (0, -6), (6, 5)], fill="#e8b44f", linejoin="bevel", **{**ink, "stroke_width": 2})
    cells[8].star(0, 0, 5, 6, 2.5, fill="#7d4f7f", fill_rule="evenodd")
    cells[9].path(annulus(6, 3).joined(star(5, 5, 2)), fill="#3a4a63", fill_rule="evenodd", opacity=0.7, **ink)
    cells[10].frame(turn=8).mirrored().path(WING, fill="#9fb08d", shadow=soft_shadow(1, 2))
    cells[11].frame(turn=70, scale=0.6).path(WING, fill=None, shadow=soft_shadow(1.5, 0, "#b03d36", 0.8), **ink)
    cells[12].spun(7).ellipse(0, -4, 0.8, 2.4, fill="#d9715b", opacity=0.6)
    cells[13].text(0, 2, "Moth", 5, align="middle", italic=True)
    cells[14].circles([-3, 0, 3], [0, 2, 0], [2, 3, 2], fill=np.array([(1, 0, 0), (1, 0.8, 0), (0, 0.5, 0.5)]), opacity=0.5)
    cells[15].arc(0, 0, 5, 20, 250, kind="sector", fill="#e8b44f", dash=(1, 0.5, 0.2), **ink)
    for number, outside in enumerate(("pad", "repeat", "reflect", "none")):
        cell = cells[16 + number]
        laid = cell.picture(DEMO / "dusk.png", outside=outside, smooth=number % 2 == 0).placed((-3, -2, 6, 4))
        cell.rect(-6, -6, 12, 12, fill=laid)
    cells[20].frame(turn=30).stamp(0, 0, dusk.tinted("#ffd0a0"), width=10)
    # Away from row 512 of a screen, where Chromium cuts strokes that are painted with a picture.
    cells[26].circle(0, 0, 4, fill=None, stroke=cells[26].picture(DEMO / "dusk.png"), stroke_width=2)
    cells[22].frame(skew=15).circle(0, 0, 5, fill=cells[22].picture(DEMO / "lichen.png"))
    for step in range(30):
        cells[23].circle(0, 0, 6 - step * 0.2, fill="#e0802f", opacity=0.02)
    under = cells[24].clipped(ngon(6, radius=6)).clipped(annulus(7, 3), fill_rule="evenodd")
    under.rect(-7, -8, 14, 16, fill=night)
    under.circle(2, 2, 3, fill="teal")
    for number, blend in enumerate(BLENDS):
        layer = sheet.layer(f"{blend} on", opacity=0.8, blend=blend if number % 2 else "normal")
        place = 3 + number * 7.4
        sheet.rect(place, 60, 6, 8, fill="#7d4f7f")
        layer.circle(place + 3, 68, 3.4, fill="#e8b44f", blend=blend)
    return sheet
