"""mothseed tally: how often each outcome came up."""

from __future__ import annotations

import argparse
import math
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.told import counted, spread, told

if TYPE_CHECKING:
    from mothseed.study.tally import Spread, Tally

EXAMPLE = "mothseed tally moths --by form,tint -o tally.png"

_RAREST = 5
_TOO_RARE_TO_COUNT = 1e7


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "tally",
        "Count the outcomes of a series, compare them with the odds in the sketch, and name the rarest editions.",
        EXAMPLE,
    )
    options.add_series(parser)
    parser.add_argument("--by", default="", metavar="LABELS", help="count combinations of these outcomes: form,tint")
    parser.add_argument("-o", dest="output", type=Path, metavar="FILE", help="write the chart as PNG")
    options.add_theme(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Count; returns the exit status, which is 0 even if something deviates."""
    from mothseed.faults import SeriesError
    from mothseed.files import write_bytes
    from mothseed.series.ledger import Ledger
    from mothseed.series.rows import OUTCOMES
    from mothseed.study.tally import Tally, combination, rarest, tallies

    output = options.picture_path(arguments.output) if arguments.output else None
    damaged: list[str] = []
    with Ledger.reading(arguments.series) as ledger:
        known = ledger.values(("number", "error", OUTCOMES), damaged)
    options.tell_damaged(arguments.series, damaged)
    done = [place for place, error in enumerate(known["error"]) if not error]
    outcomes = [known[OUTCOMES][place] for place in done]
    labels = options.names(arguments.by)
    found = [combination(outcomes, labels)] if labels else tallies(outcomes)
    if not found:
        raise SeriesError(
            f"{arguments.series} has no outcomes to count",
            hint='keep some: chance("form").pick(forms, label="form"), or sheet.note("moths", count)',
        )
    found_tallies = [each for each in found if isinstance(each, Tally)]
    rare = [(_title(known, done[place]), probability) for place, probability in rarest(outcomes, _RAREST)]
    if output and found_tallies:
        from mothseed.report.tally_figure import tally_figure

        title = f"{arguments.series.resolve().name}: {counted(len(done), 'edition')}"
        write_bytes(output, tally_figure(found_tallies, title, options.theme(arguments)))
    if arguments.json:
        rows = [{"edition": title, "probability": odds} for title, odds in rare]
        console.say_json({"editions": len(done), "outcomes": [asdict(each) for each in found], "rarest": rows})
        return 0
    for each in found:
        _say(each)
    if rare and not labels:
        console.say("rarest: " + ", ".join(f"{title} ({_one_in(odds)})" for title, odds in rare))
    if output and found_tallies:
        console.say(f"figure: {output}")
    return 0


def _title(known: Mapping[str, Sequence[Any]], place: int) -> str:
    from mothseed.series import Edition

    return Edition(**{name: known[name][place] for name in ("seed", "variant", "number") if name in known}).title


def _say(found: Tally | Spread) -> None:
    from mothseed.study.tally import Spread

    if isinstance(found, Spread):
        console.say(f"{found.label}: {spread(found.total, found.least, found.most, found.mean)}\n")
        return
    rows = [
        (
            told(each.value),
            each.count,
            f"{each.share:.1%}",
            f"{each.low:.1%} to {each.high:.1%}",
            "" if each.expected is None else f"{each.expected:.1%}",
            _verdict(each.share, each.expected) if each.deviates else "",
        )
        for each in found.counts
    ]
    console.say_table((found.label, "count", "share", "95% interval", "expected", ""), rows)


def _one_in(probability: float) -> str:
    """A probability for people: "1 in 40"."""
    times = 1 / probability
    return f"1 in {times:,.0f}" if times < _TOO_RARE_TO_COUNT else f"1 in 10^{math.log10(times):.0f}"


def _verdict(share: float, expected: float | None) -> str:
    return "more than chance allows" if share > (expected or 0.0) else "less than chance allows"
