"""Build a wheel that brings its kernels along, compiled for the usual processors of this platform, and the documentation.

    python scripts/build_wheel.py [FOLDER]

The wheel lands in dist/, or in that folder. Whoever installs it needs no compiling, and no network for `mothseed docs`.
"""

from __future__ import annotations

import shutil
import subprocess
import sys
import sysconfig
import tempfile
from pathlib import Path

from mothseed.native.build import compile_for
from mothseed.native.store import PARTS, ready_made_folder
from mothseed.native.target import usual_targets

ROOT = Path(__file__).resolve().parents[1]


def main() -> None:
    """Compile for each target into a copy of the sources, build the wheel there, and name its platform."""
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else ROOT / "dist").resolve()
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as work:
        copy, built = Path(work) / "mothseed", Path(work) / "wheel"
        shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(".*", "__pycache__", "dist", "results", "tests", "site"))
        for target in usual_targets():
            print(f"compiling for {target.cpu}")
            place = copy / "src" / "mothseed" / ready_made_folder(target).relative_to(ROOT / "src" / "mothseed")
            place.mkdir(parents=True)
            compile_for(target, place, list(PARTS))
            for lock in place.glob("*.lock"):
                lock.unlink()
        print("building the documentation")
        pages = [sys.executable, str(ROOT / "scripts" / "make_docs.py"), str(copy / "src" / "mothseed" / "site")]
        subprocess.run(pages, check=True)
        command = [sys.executable, "-m", "pip", "wheel", "--no-deps", "--wheel-dir", str(built), str(copy)]
        subprocess.run(command, check=True)
        (wheel,) = built.glob("*.whl")
        platform = sysconfig.get_platform().replace("-", "_").replace(".", "_")
        tagging = [sys.executable, "-m", "wheel", "tags", "--remove", "--platform-tag", platform, str(wheel)]
        subprocess.run(tagging, check=True)
        (wheel,) = built.glob("*.whl")
        print(shutil.copy(wheel, folder))


if __name__ == "__main__":
    main()
