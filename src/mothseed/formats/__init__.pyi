from .format import Format as Format
from .format import Written as Written
from .registry import format_of as format_of
from .registry import history_in as history_in
from .registry import write_picture as write_picture
from .settings import Effort as Effort
from .settings import Settings as Settings
