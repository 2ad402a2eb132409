"""Scales of a wing. Rows upon rows: a brick grid, arcs in each cell, and a cycle of colours."""

from mothseed import Palette, artwork, dial


@artwork(width=100, height=100, paper="#22203a")
def scales(sheet, chance, *, rows=dial(19, 4, 40)):
    tints = Palette(["#2f4a5a", "#4e6b5c", "#9fb08d", "#e8d9a0", "#c98b5e"])
    for cell in sheet.bleed(6).grid(12, rows, brick=0.5):
        worn = chance("worn", cell.index)
        tint = tints.cycle(cell.row + worn.whole(0, 1))
        for ring in range(4):
            cell.circle(0, 0, 7 - ring * 1.5, fill=tint, stroke="#22203a", stroke_width=0.25, opacity=1 - ring * 0.16)
