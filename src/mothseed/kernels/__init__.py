"""Compiled code: whatever runs for each mark, edge, pixel or place."""
