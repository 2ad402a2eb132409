"""Series: seeds, making many editions, the ledger."""

from mothseed.series.job import Edition
from mothseed.series.run import Request, Summary, make_series, series_editions
from mothseed.series.seeds import Seed, parse_seed, parse_seeds

__all__ = ["Edition", "Request", "Seed", "Summary", "make_series", "parse_seed", "parse_seeds", "series_editions"]
