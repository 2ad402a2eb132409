from .press import Kept as Kept
from .result import Problem as Problem
from .result import Shown as Shown
from .watch import Begun as Begun
from .watch import Event as Event
from .watch import Further as Further
from .watch import Watch as Watch
from .wish import Wish as Wish
