"""Compiled code that paints tiles: coverage, colour, groups, shades, storing pixels."""
