"""Series: seeds, plans, making many editions, and the ledger."""

from mothseed.series.crew import Crew, borrowed, in_this_process, processes
from mothseed.series.edition import Edition
from mothseed.series.job import Job, Variant
from mothseed.series.limits import Limits
from mothseed.series.run import Due, Request, Summary, Watcher, due, make_series, series_editions
from mothseed.sketch.seeds import Seed, parse_seed, parse_seeds

__all__ = [
    "Crew",
    "Due",
    "Edition",
    "Job",
    "Limits",
    "Request",
    "Seed",
    "Summary",
    "Variant",
    "Watcher",
    "borrowed",
    "due",
    "in_this_process",
    "make_series",
    "parse_seed",
    "parse_seeds",
    "processes",
    "series_editions",
]
