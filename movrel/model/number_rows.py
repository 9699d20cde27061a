"""Rows of numbers in a text: parted by commas, semicolons, tabulators or blanks; headings and remarks skipped."""

from __future__ import annotations

import re

_BETWEEN = re.compile(r"[,;\t ]+")


def number_rows(text: str) -> list[list[float]]:
    """The rows of numbers of a text; lines with other words, such as a heading, and what follows # are skipped."""
    rows = []
    for line in text.splitlines():
        words = [word for word in _BETWEEN.split(line.partition("#")[0].strip()) if word]
        try:
            row = [float(word) for word in words]
        except ValueError:
            continue
        if row:
            rows.append(row)
    return rows
