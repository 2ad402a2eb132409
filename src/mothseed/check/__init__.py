"""Looking over a sketch: is it reproducible, and does it make a known mistake."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from mothseed.check.chanced import chance_findings
from mothseed.check.drawn import drawing_findings
from mothseed.check.finding import RULES, Finding
from mothseed.check.repeat import repeat_findings
from mothseed.check.source import source_findings
from mothseed.sketch import Sketch, perform

__all__ = ["RULES", "Finding", "findings"]


def findings(sketch: Sketch, seeds: Sequence[int | str], dials: Mapping[str, Any]) -> Iterator[Finding]:
    """All that is found in a sketch, performed for some seeds; raises as `perform` does where it does not run."""
    impressions = [perform(sketch, seed, dials, tracing=True) for seed in seeds]
    for file in [sketch.path, *sketch.module_files()]:
        yield from source_findings(file, file.read_text(encoding="utf-8", errors="replace"))
    yield from repeat_findings(sketch, impressions, dials)
    yield from drawing_findings(impressions)
    yield from chance_findings(sketch, impressions)
