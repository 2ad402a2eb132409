"""Build the pages of docs/ as a site with search, which is read from disk as well as from a server.

    python scripts/make_docs.py [FOLDER]

It lands in src/mothseed/site, where `mothseed docs` finds it, or in that folder. Sphinx and its reader of Markdown are needed:
pip install ".[docs]".
"""

from __future__ import annotations

import os
import re
import shutil
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from PIL import Image
from sphinx.application import Sphinx

from mothseed import __version__

ROOT = Path(__file__).resolve().parents[1]
DOCS, PAGES = ROOT / "docs", ROOT / "src" / "mothseed" / "report" / "pages"
SITE = ROOT / "src" / "mothseed" / "site"
_NAMES = {
    "../README.md": "index.md",
    "README.md": "all.md",
    "../CONTRIBUTING.md": "contributing.md",
    "../CHANGELOG.md": "changes.md",
    "../LICENSE": "licence.md",
}
"""What pages are called on the site, by their place from the folder, where it is not their own name."""
_ALSO = {"All pages": "all", "Contributing": "contributing", "Changes": "changes", "Licence": "licence"}
"""Pages that are on no list, and come last."""
_LINK = re.compile(r"\]\(([^)#\s]+)(#[^)\s]*)?\)")
_QUALITY = 88


def main() -> None:
    """Build it; ends with an error where a link leads nowhere or a page is on no list."""
    folder = Path(sys.argv[1]).resolve() if len(sys.argv) > 1 else SITE
    build(folder)
    print(folder / "index.html")


def build(folder: Path) -> None:
    """Build the site into a folder, in place of what is there."""
    with tempfile.TemporaryDirectory() as work:
        source, made = Path(work) / "source", Path(work) / "made"
        _gather(source)
        site = Sphinx(
            source, None, made, Path(work) / "trees", "html", _settings(), status=None, warning=sys.stderr, warningiserror=True
        )
        site.build(force_all=True)
        if site.statuscode:
            raise SystemExit(site.statuscode)
        shutil.rmtree(folder, ignore_errors=True)
        shutil.copytree(made, folder, ignore=shutil.ignore_patterns(".*", "objects.inv"))


def _settings() -> dict[str, object]:
    return {
        "project": "Moth Seed",
        "version": __version__,
        "release": __version__,
        "root_doc": "index",
        "extensions": ["myst_parser"],
        "myst_heading_anchors": 4,
        "nitpicky": True,
        "html_theme": "theme",
        "html_theme_path": [str(DOCS)],
        "html_static_path": [str(PAGES / name) for name in ("faces.css", "faces-license.txt", "house.css", "house.js")],
        "html_copy_source": False,
        "html_show_search_summary": False,
        "html_use_index": False,
        "html_permalinks_icon": "#",
    }


def _gather(source: Path) -> None:
    """Copy the pages, with names and links as a site has them, and their pictures smaller."""
    lists = "\n".join(["", *_lists((DOCS / "README.md").read_text("utf-8"))])
    for path in [*DOCS.rglob("*.md"), *(DOCS / name for name in _NAMES if name.startswith(".."))]:
        name = _site_name(path)
        place = source / name
        place.parent.mkdir(parents=True, exist_ok=True)
        text = path.read_text("utf-8")
        place.write_text(_on_the_site(text, path, name) + lists * (name == "index.md"), "utf-8")
    with ThreadPoolExecutor() as pool:
        list(pool.map(lambda picture: _shrink(picture, source), DOCS.rglob("*.png")))


def _on_the_site(text: str, path: Path, name: str) -> str:
    """What stands on a page, with its links as they lead there."""
    if path.suffix != ".md":
        return f"# {Path(name).stem.capitalize()}\n\n```text\n{text}\n```\n"
    return _LINK.sub(lambda link: _rewritten(link, path, name), text)


def _site_name(path: Path) -> str:
    """What a page or a picture is called on the site."""
    name = os.path.relpath(path, DOCS).replace(os.sep, "/")
    return _NAMES.get(name) or re.sub(r"/README\.md$", "/index.md", re.sub(r"\.png$", ".webp", name))


def _rewritten(link: re.Match[str], path: Path, name: str) -> str:
    """A link of a page as it leads on the site."""
    target, anchor = link[1], link[2] or ""
    if "://" in target:
        return link[0]
    return f"]({'../' * name.count('/')}{_site_name((path.parent / target).resolve())}{anchor})"


def _lists(text: str) -> Iterator[str]:
    """The lists of all pages, as the tables of the page that names them have them."""
    tables = re.findall(r"^\| ([\w ]+) \| \|\n\|---\|---\|\n((?:\|.*\n)+)", text, re.MULTILINE)
    for number, (caption, rows) in enumerate(tables, 1):
        links = re.findall(r"\[([^\]]+)\]\(([^)#]+)\.md\)", rows)
        yield from ["```{toctree}", ":hidden:", f":caption: {caption.capitalize()}", ""]
        for words, target in links:
            yield f"{words[0].upper()}{words[1:]} <{_site_name(DOCS / f'{target}.md').removesuffix('.md')}>"
        if number == len(tables):
            yield from [f"{words} <{target}>" for words, target in _ALSO.items()]
        yield from ["```", ""]


def _shrink(picture: Path, source: Path) -> None:
    """A picture as the site has it: a fifth of the size, and no difference to be seen."""
    place = source / _site_name(picture)
    place.parent.mkdir(parents=True, exist_ok=True)
    with Image.open(picture) as image:
        image.save(place, quality=_QUALITY)


if __name__ == "__main__":
    main()
