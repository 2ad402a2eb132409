"""One set of colours for sheets, figures and pages, on light paper and on dark, all of it easy to read."""

from __future__ import annotations

import re
from collections import Counter
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

import mothseed.report
from mothseed.colour import Colour
from mothseed.colour.contrast import contrast
from mothseed.colour.oklch import oklch_of
from mothseed.report.change_map import CHANGE_COLOURS
from mothseed.report.theme import DARK, LIGHT, Theme
from mothseed.report.variety_map import GROUP_COLOURS
from tests.conftest import Run, WriteSketch, made_series, pixels_of

THEMES = pytest.mark.parametrize("theme", [LIGHT, DARK], ids=["light", "dark"])


@THEMES
def test_text_on_a_sheet_is_easy_to_read(theme: Theme) -> None:
    for css in (theme.ink, theme.muted, theme.accent):
        assert contrast(css, theme.paper) >= 4.5, "WCAG 2.2, 1.4.3"
    for css in (theme.keep, theme.maybe, theme.drop):
        assert contrast(css, theme.paper) >= 3, "WCAG 2.2, 1.4.11"
    for css in (theme.bar, theme.deviating):
        assert contrast(theme.ink, css) >= 3, "what lies on a bar"
    assert theme.heat[0] == theme.paper, "no difference leaves the paper as it is"


@THEMES
def test_colours_that_stand_for_something_stand_out_and_keep_their_hue(theme: Theme) -> None:
    shown = {css: theme.data(css) for css in (*CHANGE_COLOURS.values(), *GROUP_COLOURS)}
    for css, there in shown.items():
        assert contrast(there, theme.paper) >= 3
        turned = (oklch_of(Colour.parse(there))[2] - oklch_of(Colour.parse(css))[2] + 180) % 360 - 180
        assert abs(turned) <= 10
    assert len({*shown.values()}) == len(shown)
    if theme is LIGHT:
        assert all(css == there for css, there in shown.items())


@THEMES
def test_pages_have_the_colours_of_sheets(theme: Theme) -> None:
    css = (Path(mothseed.report.__file__).parent / "pages" / "house.css").read_text()
    blocks = re.findall(r":root[^{]*\{([^}]*)\}", css)
    of_page = dict(re.findall(r"--(\w+): (#\w+);", blocks[0 if theme is LIGHT else 1]))
    for name in ("paper", "ink", "muted", "hairline", "accent", "keep", "maybe", "drop"):
        assert of_page[name] == getattr(theme, name), name


def paper_of(file: Path) -> str:
    """The commonest colour along the border of a picture, as a CSS string."""
    pixels = pixels_of(file)[..., :3]
    border = np.concatenate([pixels[0], pixels[-1], pixels[:, 0], pixels[:, -1]])
    ((red, green, blue), _), *_ = Counter(map(tuple, border.tolist())).most_common(1)
    return f"#{red:02x}{green:02x}{blue:02x}"


def whole(css: str) -> tuple[int, ...]:
    """A colour as a pixel has it."""
    return tuple(round(255 * part) for part in Colour.parse(css)[:3])


COMMANDS = {
    "contact": "contact s -o {}",
    "contact of groups": "contact s --group status -o {}",
    "tally": "tally s -o {}",
    "variety": "variety s -o {}",
    "compare": "compare spots.py --but count=9 -o {}",
    "compare series": "compare s spots.py -o {}",
    "sweep": "sweep spots.py --vary count=1,5 -o {}",
    "sweep of two": "sweep spots.py --vary count=1,5 --vary big -o {}",
    "influence": "influence spots.py --seeds 1 -o {}",
    "palette": "palette tint.png --count 2 -o {}",
    "seek": "seek spots.py --where seed>2 -o {}",
    "daybook": "daybook spots.py -o {}",
    "entries": "daybook spots.py --compare 1 2 -o {}",
    "edition": "edition spots.py --seeds 1-2 --width 60px -o e",
}


@pytest.mark.parametrize("line", COMMANDS.values(), ids=COMMANDS)
def test_every_sheet_and_figure_is_on_dark_paper_where_that_is_asked_for(
    line: str, run: Run, write_sketch: WriteSketch, tmp_path: Path
) -> None:
    sketch = write_sketch()
    if " s " in line:
        made_series(sketch, "1-3")
        write_sketch(sketch.read_text().replace("0.7", "0.5"))
    if "tint" in line:
        Image.fromarray(np.repeat([[[250, 90, 60], [20, 40, 90]]], 2, axis=0).astype(np.uint8)).save("tint.png")
    if "daybook" in line:
        assert run("proof", sketch, "--seed", "1", "-o", "p.png").status == 0
        assert run("proof", sketch, "--seed", "2", "-o", "p.png").status == 0
    sheet = tmp_path / ("e/contact.png" if line.startswith("edition") else "sheet.png")
    answer = run(*line.format("sheet.png").split(), "--dark")
    assert answer.status == 0, answer.err
    assert paper_of(sheet) == DARK.paper
    shown = {tuple(pixel) for pixel in pixels_of(sheet)[..., :3].reshape(-1, 3).tolist()}
    assert whole(DARK.ink) in shown, "words are in the ink of the theme"
    assert not shown & {whole(LIGHT.ink), whole(LIGHT.muted)}, "and in no other"


def test_marks_outlined_are_on_the_paper_that_was_asked_for(run: Run, write_sketch: WriteSketch, tmp_path: Path) -> None:
    write_sketch()
    means = []
    for option in ([], ["--dark"]):
        answer = run("trace", "spots.py", "--around", "spots.py:8", "-o", "line.png", *option)
        assert answer.status == 0, answer.err
        means.append(pixels_of(tmp_path / "line.png")[..., :3].mean())
    assert means[0] > means[1] + 60
