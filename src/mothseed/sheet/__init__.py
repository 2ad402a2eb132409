"""The sheet and the views on it, the styles, and the drawing that they record."""

from mothseed.sheet.drawing import Drawing
from mothseed.sheet.fingerprint import fingerprint
from mothseed.sheet.finish import Shadow, soft_shadow
from mothseed.sheet.sheet import Sheet
from mothseed.sheet.style import Style
from mothseed.sheet.view import View

__all__ = ["Drawing", "Shadow", "Sheet", "Style", "View", "fingerprint", "soft_shadow"]
