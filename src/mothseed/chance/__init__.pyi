from .outcome import Outcome as Outcome
from .outcome import Promise as Promise
from .stream import Chance as Chance
