"""How soon a command has answered, as whole processes, beside `python -c "import numpy"`."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from mothseed.native.store import FOLDER_VARIABLE, PARTS

_ROUNDS = 15
_SMALL = """from mothseed import artwork


@artwork(width=100, height=100)
def moth(sheet, chance):
    for step in range(26):
        sheet.circle(50, 50, 2 + step, fill=None, stroke="navy", stroke_width=0.4)
"""


def start_costs(demo: Path, folder: Path) -> dict[str, float]:
    """How many times the import of NumPy in the same round each command takes: the median of some rounds, as a machine that
    slows down for a while would take the quickest of each from different times.
    """
    (folder / "small.py").write_text(_SMALL, encoding="utf-8")
    for name in ("specimen.py", "moth.py", "dusk.png"):
        shutil.copy(demo / name, folder / name)
    program = [str(Path(sys.executable).with_name("mothseed"))]
    subprocess.run(
        [*program, "edition", "specimen.py", "--seeds", "1-12", "-o", "moths"], cwd=folder, check=True, capture_output=True
    )
    commands = {
        "python -c 'import numpy'": [sys.executable, "-c", "import numpy"],
        "proof of 26 marks": [*program, "proof", "small.py", "--width", "400px", "-o", "small.png"],
        "proof of 26 marks, SVG": [*program, "proof", "small.py", "-o", "small.svg"],
        "palette": [*program, "palette", "dusk.png", "--json"],
        "table": [*program, "table", "moths", "--json"],
        "tally": [*program, "tally", "moths", "--json"],
        "mark": [*program, "mark", "moths", "3", "keep"],
        "contact": [*program, "contact", "moths", "-o", "contact.png"],
        "help": [*program, "--help"],
    }
    times: dict[str, list[float]] = {name: [] for name in commands}
    for _ in range(_ROUNDS):
        for name, command in commands.items():
            begun = time.perf_counter()
            subprocess.run(command, cwd=folder, check=True, capture_output=True)
            times[name].append(time.perf_counter() - begun)
    times["first picture on a new machine"] = [_first_picture(commands["proof of 26 marks"], folder)] * _ROUNDS
    of_numpy = np.array(times["python -c 'import numpy'"])
    ratios = {name: float(np.median(np.array(each) / of_numpy)) for name, each in times.items()}
    for name, ratio in ratios.items():
        print(f"  {name:42}{np.median(times[name]):6.3f} s{ratio:7.2f} times")
    return ratios


def _first_picture(command: list[str], folder: Path) -> float:
    """Seconds of a command for which the renderer has to be compiled."""
    with tempfile.TemporaryDirectory() as empty:
        begun = time.perf_counter()
        subprocess.run(command, cwd=folder, check=True, capture_output=True, env={**os.environ, FOLDER_VARIABLE: empty})
        seconds = time.perf_counter() - begun
        # Or the compilers, which go on with what other pictures need, would slow down what comes next.
        while len(list(Path(empty).glob("*/*.kernels"))) < len(PARTS) and time.perf_counter() - begun < 2 * seconds:
            time.sleep(0.2)
    return seconds
