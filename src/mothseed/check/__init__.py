"""Looking over a sketch: is it reproducible, and does it make a known mistake."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from mothseed.check.chanced import chance_findings
from mothseed.check.drawn import drawing_findings
from mothseed.check.finding import RULES, Finding
from mothseed.check.repeat import repeat_findings
from mothseed.check.source import source_findings
from mothseed.series import Seed, Variant
from mothseed.series.job import AS_IT_IS
from mothseed.sketch import Sketch, perform

__all__ = ["RULES", "Finding", "findings"]


def findings(sketch: Sketch, seeds: Sequence[Seed], variant: Variant = AS_IT_IS) -> Iterator[Finding]:
    """All that is found in a variant of a sketch, performed for some seeds; raises as `perform` does where it does not run."""
    impressions = [perform(sketch, seed, variant.dials, variant.reseeds, tracing=True) for seed in seeds]
    for file in [sketch.path, *sketch.module_files()]:
        yield from source_findings(file, file.read_text(encoding="utf-8", errors="replace"))
    yield from repeat_findings(sketch, impressions, variant)
    yield from drawing_findings(impressions)
    yield from chance_findings(sketch, impressions, variant)
