"""What lies where in the folders that are made: that of a series, and that of a daybook."""

from __future__ import annotations

LEDGER_NAME = "ledger.sqlite"
SOURCE_FOLDER = "source"
"""The series' own copy of what its editions were made from."""
CONTACT_NAME = "contact.png"
"""The sheet that each run makes anew."""
MANIFEST_NAME = "manifest.json"
"""Of a series that was packed: what lies in it, and what it was made with."""
LIGHTBOX_NAME = "lightbox.html"
"""The light table that a pack has."""
DAYBOOK_SUFFIX = "-daybook"
"""Ends the name of a daybook's folder, after that of its sketch."""
