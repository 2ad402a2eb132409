from .book import Daybook as Daybook
from .entry import Entry as Entry
