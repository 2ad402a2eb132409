"""Which editions are up to date, and why the others are not."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from mothseed.chance.outcome import as_plain
from mothseed.files import file_hash
from mothseed.render import RENDERER_VERSION
from mothseed.series.edition import Edition
from mothseed.series.job import Job
from mothseed.series.pictures import otherwise, trouble

NEEDED = (
    *("number", "sketch", "error", "file", "width", "renderer", "dials", "reseeds", "without", "sources"),
    *("files", "stamps", "file_size", "file_time", "pixel_hash"),
)
"""Fields of an edition that decide it; the others are the bulk of a ledger."""


class Freshness:
    """Compares recorded editions with jobs; reads each source file once."""

    def __init__(self, folder: Path, sketch_folder: Path) -> None:
        """`folder` is that of the series, `sketch_folder` the one that the sources' paths are relative to."""
        self._folder = folder
        self._sketch_folder = sketch_folder
        self._hashes: dict[str, str | None] = {}

    def reason(self, job: Job, dials: dict[str, Any], edition: Edition | None) -> str:
        """Why a job has to be done, in a few words; empty if the edition is up to date. `dials` are all dials' values."""
        if edition is None:
            return "not made yet"
        if edition.failed:
            return "failed before"
        if edition.file != job.file.name:
            return "its number has changed"
        if edition.width != job.width:
            return f"it is {edition.width} px wide"
        if edition.renderer != RENDERER_VERSION:
            return "the renderer is a newer version"
        plain = {name: as_plain(value) for name, value in dials.items()}
        if edition.dials != plain:
            changed = sorted(name for name in {**plain, **edition.dials} if plain.get(name) != edition.dials.get(name))
            return f"dial {', '.join(changed)} was changed"
        if edition.reseeds != job.recipe.reseeds:
            return "other streams are redrawn"
        if edition.without != job.recipe.without:
            return "other layers are left out"
        for name, digest in edition.sources.items():
            if self._hash(name) != digest:
                return f"{name} was changed"
        lacking = [form.name for form in job.forms if form.file(edition.file) not in edition.files]
        if lacking:
            return f"it has no {lacking[0]} yet"
        words = trouble(self._folder, edition)
        for name, kind in () if words else otherwise(self._folder, edition.files, edition.stamps):
            return f"{name} is missing" if kind == "missing" else f"{name} was changed"
        return words

    def _hash(self, name: str) -> str | None:
        if name not in self._hashes:
            self._hashes[name] = file_hash(self._sketch_folder / name)
        return self._hashes[name]
