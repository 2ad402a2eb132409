"""The layout of folders: those of a series and of a daybook."""

from __future__ import annotations

LEDGER_NAME = "ledger.sqlite"
SOURCE_FOLDER = "source"
"""The series' own copy of its source."""
CONTACT_NAME = "contact.png"
"""The contact sheet, remade by each run."""
MANIFEST_NAME = "manifest.json"
"""The manifest of a packed series: its files, and the software."""
LIGHTBOX_NAME = "lightbox.html"
"""The light table in a pack."""
DAYBOOK_SUFFIX = "-daybook"
"""Suffix of a daybook's folder, after the name of its sketch."""
