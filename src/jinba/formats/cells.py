"""Cells of tables that a spreadsheet opens: words that it would run as a formula are marked as words."""

from __future__ import annotations

_RUN = ("=", "+", "-", "@", "\t", "\r")
_MARK = "'"


def words_cell(text: str) -> str:
    """Return a cell of words that no spreadsheet takes for a formula; :func:`cell_words` reads it back.

    A mark of its own in front of such a beginning is marked again, so that every text comes back as it was.
    """
    return f"{_MARK}{text}" if text.lstrip(_MARK).startswith(_RUN) else text


def cell_words(cell: str) -> str:
    """Return the words of a cell."""
    return cell[1:] if cell.startswith(_MARK) and cell.lstrip(_MARK).startswith(_RUN) else cell
