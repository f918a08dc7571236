"""What a format of tables is, and what is looked at to recognize it."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from fluctus.tables.formats.text import Decoded, decode
from fluctus.tables.formats.workbook import check_archive
from fluctus.tables.grid import Grid


@dataclass(frozen=True, slots=True)
class Opened:
    """The cells of a file. ``sheets`` are the tables it has, ``sheet`` the one that was read."""

    grid: Grid
    format: str
    encoding: str = ""
    sheets: tuple[str, ...] = ()
    sheet: str = ""
    remarks: tuple[str, ...] = ()
    """What of the file is left out, or cannot be read."""


class Source:
    """The bytes of a file, looked into as far as it is asked for, once."""

    def __init__(self, raw: bytes) -> None:
        """Look at nothing yet."""
        self._raw = raw

    @property
    def raw(self) -> bytes:
        """All bytes; of what has been read as text they are given up."""
        return self._raw

    @cached_property
    def members(self) -> tuple[str, ...]:
        """The names within an archive, which is checked; none for what is no archive."""
        return tuple(check_archive(self._raw)) if self._raw.startswith(b"PK\x03\x04") else ()

    @cached_property
    def decoded(self) -> Decoded:
        """The file as text; raises NotTextError for what is none."""
        decoded = decode(self._raw)
        # As large as the text: both at once are not needed.
        self._raw = b""
        return decoded

    @property
    def text(self) -> str:
        """The file as text, as ``decoded`` has it."""
        return self.decoded.text


@dataclass(frozen=True, slots=True)
class TableFormat:
    """All that a format is.

    ``recognizes`` is asked in the order of the registry; ``read`` takes the sheet that is wanted,
    None for the first, and raises TableError for what cannot be read.
    """

    name: str
    suffixes: tuple[str, ...]
    """What its files end with, for whoever chooses one."""
    recognizes: Callable[[Source], bool]
    read: Callable[[Source, str | None], Opened]
