"""Units of length."""

UNITS_PER_INCH = {"mm": 25.4, "cm": 2.54, "in": 1.0, "pt": 72.0, "px": 96.0}
"""The units of a sheet; a px is the one of CSS."""
