"""The queues that workers serve, and how many jobs of each a worker does at once.

Several of a queue, so that one that takes long keeps no other waiting.
"""

from typing import Final

IMPORTS: Final = "imports"
REPORTS: Final = "reports"
MAIL: Final = "letters"
FEEDS: Final = "feeds"
AT_ONCE: Final = {IMPORTS: 2, REPORTS: 3, MAIL: 1, FEEDS: 4}
