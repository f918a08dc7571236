"""Cells that have a type, written the one way that reads back the same."""

from datetime import date, datetime, time, timedelta


def plain(cell: object) -> str:
    """Write a typed cell as text: dates as ISO, numbers with a decimal point."""
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "true" if cell else "false"
    if isinstance(cell, float):
        return str(int(cell)) if cell.is_integer() and abs(cell) < 1e15 else repr(cell)
    if isinstance(cell, datetime):
        text = cell.isoformat(" ", "seconds")
        return text.removesuffix(" 00:00:00")
    if isinstance(cell, date):
        return cell.isoformat()
    if isinstance(cell, time):
        return cell.isoformat("seconds")
    if isinstance(cell, timedelta):
        seconds = round(cell.total_seconds())
        hours, rest = divmod(abs(seconds), 3600)
        return f"{'-' if seconds < 0 else ''}{hours}:{rest // 60:02}:{rest % 60:02}"
    if isinstance(cell, (dict, list)):
        return ""
    return str(cell)
