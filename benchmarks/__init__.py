"""Benchmarks: what things cost, as ratios within one run."""
