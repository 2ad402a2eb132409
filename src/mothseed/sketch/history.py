"""The history that a picture carries: what made it, enough to make it again."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any

from mothseed._version import VERSION
from mothseed.chance.outcome import as_plain
from mothseed.render import RENDERER_VERSION, read_history
from mothseed.sheet import fingerprint
from mothseed.sketch.load import Sketch
from mothseed.sketch.perform import Impression


@dataclass(frozen=True, slots=True)
class History:
    """What made a picture, as plain values."""

    sketch: str
    sketch_hash: str
    seed: int | str
    dials: dict[str, Any]
    fingerprint: str
    paper: str
    sheet: list[Any] = field(default_factory=list)
    """width, height and unit of the sheet"""
    reseeds: dict[str, int | str] = field(default_factory=dict)
    outcomes: list[dict[str, Any]] = field(default_factory=list)
    without: list[str] = field(default_factory=list)
    sources: dict[str, str] = field(default_factory=dict)
    """of an edition: content hash of each file it was made from"""
    variant: str = ""
    number: str = ""
    """of a numbered print, such as 3/12"""
    renderer: int = RENDERER_VERSION
    version: str = VERSION

    @classmethod
    def of(
        cls,
        sketch: Sketch,
        impression: Impression,
        sources: Mapping[str, str] | None = None,
        variant: str = "",
        number: str = "",
    ) -> History:
        """The history of a picture of that impression; of an edition of a series with its sources, variant and number."""
        return cls(
            sketch=sketch.path.name,
            sketch_hash=sketch.source_hash,
            seed=impression.seed,
            dials={name: as_plain(value) for name, value in impression.dials.items()},
            fingerprint=fingerprint(impression.drawing),
            paper=impression.drawing.paper.css,
            sheet=[impression.drawing.width, impression.drawing.height, impression.drawing.unit],
            reseeds=dict(impression.reseeds),
            without=list(impression.without),
            outcomes=[outcome.as_dict() for outcome in impression.outcomes],
            sources=dict(sources or {}),
            variant=variant,
            number=number,
        )

    def as_dict(self) -> dict[str, Any]:
        """The history as values that JSON can hold."""
        return asdict(self)

    def as_json(self) -> str:
        """The history as one line of JSON."""
        return json.dumps(self.as_dict(), ensure_ascii=False, sort_keys=True)

    @classmethod
    def in_picture(cls, path: Path) -> History | None:
        """The history that a picture file carries, or None; raises PictureError as `read_history` does."""
        if path.suffix.lower() == ".svg":
            from mothseed.vector import svg_history

            text = svg_history(path)
        else:
            text = read_history(path)
        return cls.from_json(text) if text else None

    @classmethod
    def from_json(cls, text: str) -> History | None:
        """The history in a text, or None where it holds none that can be understood."""
        try:
            values = json.loads(text)
            return cls(**{name: values[name] for name in cls.__dataclass_fields__ if name in values})
        except (ValueError, TypeError):
            return None
