"""Sheets and figures: what is looked at."""
