"""Make the pictures of docs/screenshots anew, from the demo data.

    python scripts/make_screenshots.py

Pictures come from the installed program; the view of a terminal is its real output, in a terminal window on a virtual
screen, for which Debian's packages xvfb, xterm and imagemagick are needed, and chromium for the light table. Without them these
pictures are left as they are.
"""

from __future__ import annotations

import os
import shlex
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from PIL import Image

ROOT = Path(__file__).parents[1]
SHOTS = ROOT / "docs" / "screenshots"
PROGRAM = Path(sys.executable).with_name("mothseed")
SIZE = (1280, 800)
GROUND = "#e6e1d6"


def main() -> None:
    """Make all of them."""
    SHOTS.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        mothseed(folder, "demo")
        night = folder / "night-register"
        on_one_ground([night / "specimen-0008.png", night / "moths" / "0010.png", night / "moths" / "0002.png"], "proof.png")
        three = [night / "drawer-0003.png", night / "lamp-0005.png", night / "lattice-0004.png"]
        on_one_ground(three, "drawer-lamp-and-lattice.png", margin=20)
        on_one_ground([night / "flights-0001.png"], "flights.png")
        three = [night / f"{name}.png" for name in ("register-0005", "moonrise-0007", "scales-0001")]
        on_one_ground(three, "register-moonrise-and-scales.png")
        on_one_ground([night / "moths" / "contact.png"], "edition.png")
        mothseed(
            night, "sweep", "specimen.py", "--vary", "spots=0..4", "--vary", "reseed:tint=1-4", "--seed", "8", "-o", "sweep.png"
        )
        on_one_ground([night / "sweep.png"], "sweep.png")
        in_rows(sorted((ROOT / "docs" / "reference" / "pictures").glob("*.png")), "reference.png")
        mothseed(night, "edition", "register.py", "--seeds", "1-60", "-o", "pages", "--width", "200px")
        mothseed(night, "tally", "pages", "-o", "tally.png")
        on_one_ground([night / "tally.png"], "tally.png")
        mothseed(night, "edition", "specimen.py", "--seeds", "1-200", "-o", "plates", "--width", "400px")
        mothseed(night, "compare", "specimen.py", "--seed", "8", "--but", "shadow=off", "-o", "pair.png")
        on_one_ground([night / "pair.png"], "compare.png")
        mothseed(night, "variety", "plates", "-o", "map.png")
        on_one_ground([night / "map.png"], "variety.png", margin=10)
        mothseed(night, "influence", "specimen.py", "--seeds", "31,10,102", "-o", "influence.png")
        on_one_ground([night / "influence.png"], "influence.png", margin=10)
        plumes = "form = 'plume' and tint = 'amber'"
        mothseed(night, "seek", "specimen.py", "--where", plumes, "--count", "4", "-o", "seek.png")
        on_one_ground([night / "seek.png"], "seek.png")
        mothseed(night, "mark", "plates", "10,172", "keep")
        mothseed(night, "mark", "plates", "37", "drop")
        mothseed(night, "mark", "plates", "102", "maybe", "--note", "the moth of the door")
        mothseed(night, "lightbox", "plates", "--sort", "form desc, tint")
        in_browser(night / "plates-lightbox.html", "lightbox.png", ".tile img")
        in_browser(worked_on(folder), "daybook.png", "article img")
        mothseed(folder, "new", "lamplight.py")
        watched(folder, "lamplight.py", "watch.png")
        shutil.rmtree(night / "moths")
        terminal(night, "demo.png", SESSION, seconds=25)
        terminal(night, "series.png", SERIES, seconds=16)
        terminal(night, "palette.png", PALETTES, seconds=8)
        (night / "astray.py").write_text(ASTRAY)
        terminal(night, "check.png", CHECKS, seconds=16)
        beside(SHOTS / "palette.png", night / "lichen-palette.png")


def mothseed(folder: Path, *arguments: str) -> None:
    """Run the program in a folder."""
    subprocess.run([PROGRAM, *arguments], cwd=folder, check=True, stdout=subprocess.DEVNULL)


def on_one_ground(files: list[Path], name: str, margin: int = 40) -> None:
    """Lay pictures side by side on a ground of the size of all screenshots."""
    page = Image.new("RGB", SIZE, GROUND)
    room = (SIZE[0] - margin * (len(files) + 1)) // len(files), SIZE[1] - 2 * margin
    images: list[Image.Image] = []
    for file in files:
        with Image.open(file) as opened:
            shrunk = opened.convert("RGB")
            shrunk.thumbnail(room, Image.Resampling.LANCZOS)
            images.append(shrunk)
    gap = (SIZE[0] - sum(image.width for image in images)) // (len(images) + 1)
    x = gap
    for image in images:
        page.paste(image, (x, (SIZE[1] - image.height) // 2))
        x += image.width + gap
    page.save(SHOTS / name, optimize=True)


def worked_on(folder: Path) -> Path:
    """The page of the daybook of a plate that was worked on for a while, from a copy of the demo's."""
    desk, sketch = folder / "desk", folder / "desk" / "specimen.py"
    desk.mkdir()
    for name in ("specimen.py", "moth.py", "dusk.png"):
        shutil.copy(folder / "night-register" / name, desk)
    quietly = ("proof", "specimen.py", "--width", "400px", "-o", "plate.png")
    mothseed(desk, *quietly, "--seed", "8", "--set", "spots=3")
    for before, after, seed in (
        ("between(-4, 4)", "between(-14, 14)", "8"),
        ("weights=[5, 3, 1]", "weights=[1, 1, 4]", "8"),
        ("strength=0.009, reach=4", "strength=0.02, reach=7", "12"),
    ):
        text = sketch.read_text()
        assert text.count(before) == 1
        sketch.write_text(text.replace(before, after))
        mothseed(desk, *quietly, "--seed", seed, "--set", "spots=3")
    mothseed(desk, *quietly, "--seed", "12", "--reseed", "tint=4")
    mothseed(desk, "daybook", "specimen.py", "--shapes")
    return desk / "specimen-daybook" / "index.html"


def in_browser(file: Path, name: str, picture: str) -> None:
    """A page as a browser shows it, once it has such a picture."""
    from playwright.sync_api import sync_playwright

    chromium = shutil.which("chromium")
    if chromium is None:
        print(f"{name} is left as it is: Chromium is needed for it", file=sys.stderr)
        return
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium, args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": SIZE[0], "height": SIZE[1]})
        page.goto(file.as_uri())
        page.locator(picture).first.wait_for()
        page.wait_for_timeout(500)
        page.screenshot(path=SHOTS / name)
        browser.close()


def watched(folder: Path, sketch: str, name: str) -> None:
    """The page of a watched sketch: a picture that is held beside the next, and what made a point of it so."""
    from playwright.sync_api import sync_playwright

    chromium = shutil.which("chromium")
    if chromium is None:
        print(f"{name} is left as it is: Chromium is needed for it", file=sys.stderr)
        return
    program = subprocess.Popen([PROGRAM, "watch", sketch, "--page"], cwd=folder, stdout=subprocess.PIPE, text=True)
    assert program.stdout is not None
    address = program.stdout.readline().split()[0]
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium, args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": SIZE[0], "height": SIZE[1]})
        page.goto(address)
        page.locator("#strip img").nth(7).wait_for()
        page.click("#hold")
        page.locator("#dial-count").fill("42")
        page.locator("#dial-tilt").fill("-16")
        page.get_by_label("redraw tint").click()
        page.wait_for_timeout(3000)
        box = page.locator("#picture").bounding_box()
        assert box is not None
        page.locator("#picture").click(position={"x": 0.74 * box["width"], "y": 0.43 * box["height"]})
        page.locator("#point dl").wait_for()
        page.screenshot(path=SHOTS / name)
        browser.close()
    program.send_signal(signal.SIGINT)
    program.wait()


def in_rows(files: list[Path], name: str) -> None:
    """Many small pictures on one page, as large as all have room."""
    cols = next(
        cols for cols in range(1, len(files) + 1) if -(-len(files) // cols) * (SIZE[0] - 20) / cols * 0.6 < SIZE[1] - 20
    )
    page = Image.new("RGB", SIZE, GROUND)
    width = (SIZE[0] - 20) // cols
    rows = -(-len(files) // cols)
    top = (SIZE[1] - int(rows * width * 0.6)) // 2
    for index, file in enumerate(files):
        with Image.open(file) as opened:
            shrunk = opened.convert("RGB")
        shrunk.thumbnail((width - 8, width), Image.Resampling.LANCZOS)
        page.paste(shrunk, (10 + index % cols * width + 4, top + int(index // cols * width * 0.6)))
    page.save(SHOTS / name, optimize=True)


def beside(shot: Path, picture: Path) -> None:
    """Lay a picture on the lower right of a screenshot."""
    with Image.open(shot) as screen, Image.open(picture) as laid:
        page, small = screen.convert("RGB"), laid.convert("RGB")
    small.thumbnail((620, 480), Image.Resampling.LANCZOS)
    page.paste(small, (page.width - small.width - 24, page.height - small.height - 24))
    page.save(shot, optimize=True)


SESSION = [
    "mothseed edition specimen.py --seeds 1-24 -o moths",
    "mothseed edition specimen.py --seeds 1-24,lamp -o moths",
    "mothseed compare specimen.py --seed 8 --but shadow=off",
    "mothseed proof specimen.py --set spotz=4",
    "mothseed proof slip.py --seed 7",
]
SERIES = [
    'mothseed table moths --where "tint = \'amber\'" --sort "form, seed desc"',
    "mothseed edition specimen.py --seeds 23-26 --set spots=2 -o moths --dry-run",
    "mothseed verify moths --sample 6",
]
ASTRAY = """import math
import time

from mothseed import artwork, dial


@artwork(width=60, height=40)
def astray(sheet, chance, *, spots=dial(3, 0, 9)):
    for tint in {"teal", "navy"}:
        sheet.circle(chance("place", tint).between(5, 55), 20, 5, fill=tint)
    sheet.frame(45, 20, turn=math.pi / 4).rect(-3, -3, 6, 6, fill="gold")
    sheet.centred().circle(40, 30, time.time() % 5, fill="red")
"""
CHECKS = [
    "mothseed check astray.py | head -10",
    "mothseed check astray.py --fix",
    "mothseed trace specimen.py --seed 8 --at 60,70 | head -11",
]
PALETTES = [
    "mothseed palette dusk.png --count 7",
    "mothseed palette lichen.png --count 9 --method median-cut --sort hue -o lichen.txt -o lichen-palette.png",
    "mothseed palette lichen.txt --merge 0.1",
]


def terminal(folder: Path, name: str, lines: list[str], seconds: float) -> None:
    """A terminal in which the program is used, as it looks after so many seconds."""
    if not all(map(shutil.which, ("Xvfb", "xterm", "import"))):
        print(f"{name} is left as it is: Xvfb, xterm and ImageMagick are needed for it", file=sys.stderr)
        return
    (folder / "slip.py").write_text(
        "from mothseed import artwork, dial\n\n\n@artwork(width=60, height=40)\n"
        "def slip(sheet, chance, *, size=dial(3)):\n    sheet.circle(30, 20, -size, fill='teal')\n"
    )
    script = folder / "show.sh"
    script.write_text(
        "export PS1='' TERM=xterm-256color COLORTERM=truecolor; clear\n"
        + "".join(f"printf '\\033[1;33m$\\033[0m %s\\n' {shlex.quote(line)}; {line}; echo\n" for line in lines)
        + "sleep 60\n"
    )
    display = ":97"
    environment = {**os.environ, "DISPLAY": display, "PATH": f"{PROGRAM.parent}:{os.environ['PATH']}"}
    screen = subprocess.Popen(["Xvfb", display, "-screen", "0", f"{SIZE[0]}x{SIZE[1]}x24"], stderr=subprocess.DEVNULL)
    try:
        time.sleep(1.5)
        look = [
            "-fa",
            "DejaVu Sans Mono",
            "-fs",
            "12",
            "-bg",
            "#171a2b",
            "-fg",
            "#e9e2d3",
            "-b",
            "18",
            "-geometry",
            "124x42+0+0",
        ]
        window = subprocess.Popen(["xterm", *look, "-e", "bash", str(script)], env=environment, cwd=folder)
        time.sleep(seconds)
        subprocess.run(["import", "-window", "root", str(SHOTS / name)], env=environment, check=True)
        window.terminate()
    finally:
        screen.terminate()


if __name__ == "__main__":
    main()
