"""Two series, or a series and its sketch as it is now, compared: `mothseed compare` for folders."""

from __future__ import annotations

import argparse
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.faults import SeriesError, UsageError
from mothseed.told import counted, listed, told

if TYPE_CHECKING:
    from mothseed.series import Edition
    from mothseed.series.edition import Key
    from mothseed.study.two_series import EditionPair, OutcomeChange, TwoSeries

_WIDTH = 400
"""Width in pixels at which editions are remade for comparison."""
_MOST_PAIRS = 48
_MOST_TOLD = 10


def is_series(path: Path) -> bool:
    """Whether a path is that of a series."""
    from mothseed.layout import LEDGER_NAME

    return path.is_dir() and (path / LEDGER_NAME).is_file()


def compare_series(arguments: argparse.Namespace, output: Path) -> int:
    """Compare a series with another, or with what its sketch makes now; returns the exit status, 0 whatever differs."""
    from mothseed.report.page import write_page
    from mothseed.report.pairs_sheet import PairFrame, pairs_sheet
    from mothseed.study.two_series import held_together

    first, second = arguments.first, arguments.second
    if second is None:
        raise UsageError(
            "there is nothing to compare it with",
            hint=f"name another series, or the sketch: mothseed compare {first} SKETCH.py",
        )
    before = _appearing(first)
    with _the_other(first, before, second) as (folder, after):
        together = held_together(before, after)
        if not together.pairs:
            raise SeriesError(f"{first} and {second} have no seed in common that was made in both")
        seen = together.changed
        troubles = _troubles(first, [pair.before for pair in seen]) | _troubles(folder, [pair.after for pair in seen])
        options.tell_left_out(list(troubles.values()))
        shown = [pair for pair in seen if pair.before.key not in troubles][:_MOST_PAIRS]
        if shown:
            frames = [
                PairFrame(first / pair.before.file, folder / pair.after.file, pair.before.title, _note(pair)) for pair in shown
            ]
            of = f"the {len(shown)} most changed of {len(seen):,}" if len(shown) < len(seen) else f"{len(seen):,} changed"
            title = f"{first.resolve().name} and {second.resolve().name}"
            subtitle = f"{of}; {len(together.pairs):,} editions"
            write_page(pairs_sheet(frames, title, subtitle, _summary(together), options.theme(arguments)), output)
    if arguments.json:
        console.say_json({**_as_plain(together), "figure": str(output) if shown else None})
        return 0
    _say(together)
    if shown:
        console.say(f"figure: {output}")
    return 0


def _appearing(series: Path) -> list[Edition]:
    """The editions of a series; what a ledger of an earlier version lacks is measured in the pictures."""
    from mothseed.study.look_again import with_appearances

    editions = options.editions_of(series)
    known = {edition.key: edition for edition in with_appearances(series, editions, lambda _count: None)}
    return [known.get(edition.key, edition) for edition in editions]


@contextmanager
def _the_other(series: Path, editions: Sequence[Edition], other: Path) -> Iterator[tuple[Path, list[Edition]]]:
    """The folder and editions of what the series is compared with."""
    if is_series(other):
        yield other, _appearing(other)
        return
    if other.suffix != ".py":
        raise UsageError(f"a series is compared with another, or with a sketch, and {other} is neither")
    from mothseed.cli.batch import made_in_order
    from mothseed.sketch import load_sketch
    from mothseed.study.two_series import jobs_as_now

    sketch = load_sketch(other)
    with tempfile.TemporaryDirectory() as name:
        jobs = jobs_as_now(series, editions, sketch, _WIDTH, Path(name))
        yield Path(name), made_in_order(jobs, sketch, None)


def _troubles(folder: Path, editions: Sequence[Edition]) -> dict[Key, str]:
    """Reasons why pictures of some editions cannot be shown."""
    from mothseed.series.pictures import readable

    found = ((edition.key, readable(folder, [edition])[1]) for edition in editions)
    return {key: words[0] for key, words in found if words}


def _note(pair: EditionPair) -> str:
    far = "" if pair.distance is None else f"{pair.distance:.3f}"
    came = [f"{label} {told(after)}" for label, (_, after) in pair.outcomes.items()]
    return ", ".join([far, *came] if far else came)


def _summary(together: TwoSeries) -> list[str]:
    """How many changed, and how."""
    from mothseed.study.two_series import AS_IT_WAS, OTHER_FORMS, SAME_FORMS

    seen = sum(pair.is_seen for pair in together.changed)
    count = {change: f"{together.count(change):,}" for change in (AS_IT_WAS, SAME_FORMS, OTHER_FORMS)}
    how = f"{count[AS_IT_WAS]} as before, {count[SAME_FORMS]} changed in their paint alone, {count[OTHER_FORMS]} in their forms"
    lines = [f"{counted(len(together.pairs), 'edition')}: {how}; the eye sees it in {seen:,}"]
    for words, editions in (("in the first alone", together.only_before), ("in the second alone", together.only_after)):
        if editions:
            lines.append(f"{words}: {_names(editions)}")
    if together.failed:
        lines.append(f"not compared, as they failed: {_names([before for before, _ in together.failed])}")
    return lines


def _names(editions: Sequence[Edition]) -> str:
    return listed([edition.title for edition in editions], _MOST_TOLD)


def _say(together: TwoSeries) -> None:
    for line in _summary(together):
        console.say(line)
    if together.changed:
        console.say("\nmost changed, by distance in OKLab:")
        rows = [
            (
                pair.before.title,
                "" if pair.distance is None else f"{pair.distance:.3f}",
                "" if pair.shared is None else f"{pair.shared:.0%} of forms shared",
                ", ".join(f"{label}: {told(before)} -> {told(after)}" for label, (before, after) in pair.outcomes.items()),
            )
            for pair in together.changed[:_MOST_TOLD]
        ]
        console.say_table(("", "change", "", ""), rows)
    if together.outcomes:
        came = [
            (
                each.label, told(each.value), f"{each.before:,}", f"{each.after:,}", f"{each.gained:,}", f"{each.lost:,}",
                f"{each.probability:.2g}", _verdict(each),
            )
            for each in together.outcomes
        ]  # fmt: skip
        console.say("\noutcomes, in editions before and after:")
        console.say_table(("", "", "before", "after", "gained", "lost", "p", ""), came)
    if together.measures:
        means = [
            (each.name, f"{each.before:.4g}", f"{each.after:.4g}", f"{each.rose:,}", f"{each.fell:,}")
            for each in together.measures
        ]
        console.say("\nmeasures, on average:")
        console.say_table(("", "before", "after", "rose in", "fell in"), means)


def _verdict(change: OutcomeChange) -> str:
    if not change.shifted:
        return ""
    return "more often now" if change.gained > change.lost else "less often now"


def _as_plain(together: TwoSeries) -> dict[str, Any]:
    return {
        "editions": [
            {
                "seed": pair.before.seed,
                "variant": pair.before.variant,
                "change": pair.change,
                "distance": pair.distance,
                "shared_forms": pair.shared,
                "seen": pair.is_seen,
                "outcomes": {label: list(values) for label, values in pair.outcomes.items()},
            }
            for pair in together.pairs
        ],
        "only_before": [edition.title for edition in together.only_before],
        "only_after": [edition.title for edition in together.only_after],
        "failed": [before.title for before, _ in together.failed],
        "outcomes": [asdict(change) for change in together.outcomes],
        "measures": [asdict(change) for change in together.measures],
    }
