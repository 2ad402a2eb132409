"""What lies where in the folder of a series."""

from __future__ import annotations

LEDGER_NAME = "ledger.sqlite"
SOURCE_FOLDER = "source"
"""The series' own copy of what its editions were made from."""
CONTACT_NAME = "contact.png"
"""The sheet that each run makes anew."""
