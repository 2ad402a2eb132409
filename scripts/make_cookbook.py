"""Write docs/cookbook/: the small sketches of the demo, each with its picture.

    python scripts/make_cookbook.py

Words and code are those of the sketches, so that they cannot go out of date.
"""

from __future__ import annotations

import ast
from pathlib import Path

from mothseed.formats.png_writing import write_png
from mothseed.render import rendered
from mothseed.sketch import Recipe, load_sketch, perform

ROOT = Path(__file__).parents[1]
SKETCHES = ROOT / "src" / "mothseed" / "demo" / "cookbook"
PAGE = ROOT / "docs" / "cookbook"
PIXELS = 440
ORDER = (
    "rows", "lamplight", "edges", "scales", "turned_tiles", "phases", "labels",
    "glow", "cards", "weave", "lichen",
    "rain", "tides", "techniques", "vines", "contours", "rosette", "seed_head",
    "engraving", "stones", "reeds", "garland", "flight_words", "drawn_in", "eggs",
    "scaled_wings", "terrace", "leaded", "relief",
    "dusk_bands", "sieve", "stipple", "shards", "wind",
)  # fmt: skip
"""From placing and repeating by way of paint, chance and outlines to pictures."""
HEAD = """# Cookbook

Thirty-four small sketches, each showing one thing you will want again and again. They come with the demo: `mothseed demo`
writes them to `night-register/cookbook/`. Open one with its dials:

```sh
mothseed watch cookbook/rosette.py --page
```

Take one and change a number. The pictures show seed 1; `scripts/make_cookbook.py` writes this page from the sketches.
"""


def titled(name: str) -> tuple[str, str]:
    """A sketch's title, and what it has to say beyond that."""
    said = ast.get_docstring(ast.parse((SKETCHES / f"{name}.py").read_text(encoding="utf-8"))) or ""
    title, _, more = said.partition(". ")
    return title, " ".join(more.split())


def page() -> str:
    """The whole page as Markdown."""
    parts = [HEAD]
    for name in ORDER:
        title, more = titled(name)
        code = (SKETCHES / f"{name}.py").read_text(encoding="utf-8").split('"""', 2)[2].strip()
        parts.append(f"## {title}\n\n{more}\n\n![{title}]({name}.png)\n\n```python\n{code}\n```\n")
    return "\n".join(parts)


def main() -> None:
    """Write the page and its pictures."""
    PAGE.mkdir(parents=True, exist_ok=True)
    for name in ORDER:
        drawing = perform(load_sketch(SKETCHES / f"{name}.py"), Recipe(seed=1)).drawing
        write_png(PAGE / f"{name}.png", rendered(drawing, PIXELS))
    (PAGE / "README.md").write_text(page(), encoding="utf-8")


if __name__ == "__main__":
    main()
