"""From the bytes of a file to text."""

import codecs
from dataclasses import dataclass

from charset_normalizer import from_bytes

from fluctus.tables.grid import TableError

UPLOAD_TABLE = "Upload a table: CSV, a spreadsheet, JSON or Parquet."
MAGIC = {
    b"\x89PNG": "a PNG picture",
    b"\xff\xd8\xff": "a JPEG picture",
    b"GIF8": "a GIF picture",
    b"%PDF": "a PDF document",
    b"PK\x03\x04": "a spreadsheet or an archive",
    b"\xd0\xcf\x11\xe0": "an old spreadsheet or document",
    b"PAR1": "a Parquet file",
    b"\x1f\x8b": "a compressed file",
}
BYTE_ORDER_MARKS = {
    codecs.BOM_UTF8: "utf-8-sig",
    codecs.BOM_UTF16_LE: "utf-16",
    codecs.BOM_UTF16_BE: "utf-16",
}


class NotTextError(TableError):
    """The bytes are not text; the message says what they seem to be."""


@dataclass(frozen=True, slots=True)
class Decoded:
    """A text and the encoding it was read in."""

    text: str
    encoding: str


def decode(raw: bytes) -> Decoded:
    """Read ``raw`` as text, by its byte-order mark, as UTF-8, or in the likeliest encoding.

    Raises NotTextError for pictures, archives and other binary data.
    """
    for magic, what in MAGIC.items():
        if raw.startswith(magic):
            raise NotTextError(f"This is {what}, not a text file. {UPLOAD_TABLE}")
    for mark, encoding in BYTE_ORDER_MARKS.items():
        if raw.startswith(mark):
            return _strict(raw, encoding)
    if b"\0" in raw:
        raise NotTextError(f"This is binary data, not a text file. {UPLOAD_TABLE}")
    try:
        return _strict(raw, "utf-8")
    except NotTextError:
        # The encodings of western spreadsheets; a free guess takes junk for any of a hundred.
        best = from_bytes(raw, cp_isolation=["cp1252", "iso8859_15", "cp1250", "cp850"]).best()
    if best is None:
        raise NotTextError("The encoding of this file is not known. Save it as UTF-8.")
    return Decoded(str(best), best.encoding)


def _strict(raw: bytes, encoding: str) -> Decoded:
    try:
        return Decoded(raw.decode(encoding), encoding)
    except UnicodeDecodeError as error:
        raise NotTextError(f"This is not text in {encoding}. Save it as UTF-8.") from error
