"""The kinds of sources that there are."""

from fluctus.feeds.sources.address import ADDRESS
from fluctus.feeds.sources.database import DATABASE
from fluctus.feeds.sources.folder import FOLDER
from fluctus.feeds.sources.source import SourceKind

SOURCES: dict[str, SourceKind] = {kind.name: kind for kind in (ADDRESS, DATABASE, FOLDER)}
