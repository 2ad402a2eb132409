"""Reproducibility: editions compared with their ledger, sketches with themselves."""
