"""Tables of others: separators, decimal commas, heads, units and times are guessed, what is bad is counted."""

from __future__ import annotations

import numpy as np
import pytest

from movrel.errors import MovrelError
from movrel.exchange.table_files import read_table_file


def read(text: str, name: str = "a.csv", time: str = "") -> dict[str, tuple[str, list[float]]]:
    table = read_table_file(name, text.encode(), time)
    return {c.name: (c.unit, c.values.tolist()) for c in table.columns}


@pytest.mark.parametrize(
    "text",
    [
        "t;p [bar]\n0;1,5\n1;2,5\n",
        "t,p (bar)\n0,1.5\n1,2.5\n",
        "t\tp [bar]\n0\t1.5\n1\t2.5\n",
        "Kai, Halle 3\nt;p\ns;bar\n0;1,5\n1;2,5\n",
        "Kai; Halle 3\nt [s];p [bar]\n0;1,5\n1;2,5\n",
        "# a remark of the logger\n\nt | p [bar]\n0 | 1.5\n1 | 2.5\n",
    ],
)
def test_the_same_table_in_many_dresses(text: str) -> None:
    assert read(text) == {"t": ("s", [0.0, 1.0]), "p": ("bar", [1.5, 2.5])}


def test_names_and_dates_beside_decimal_commas() -> None:
    text = (
        "Zeit;oil.T [°C];Summe, gesamt\n30.11.2026 12:00;1,5;1.234,5\n30.11.2026 12:01;-2,5e1;7\n"
    )
    assert read(text) == {
        "Zeit": ("s", [0.0, 60.0]),
        "oil.T": ("degC", [1.5, -25.0]),
        "Summe, gesamt": ("", [1234.5, 7.0]),
    }


def test_times_in_minutes_dates_and_clocks() -> None:
    assert read("Zeit [min];x\n0;1\n2;2\n")["Zeit"] == ("s", [0.0, 120.0])
    assert read("stamp,x\n2026-03-01 10:00:00,1\n2026-03-01 10:00:30,2\n")["stamp"][1] == [
        0.0,
        30.0,
    ]
    assert read("clock;x\n10:00:00;1\n10:01:30;2\n")["clock"][1] == [36000.0, 36090.0]


def test_the_time_can_be_another_column() -> None:
    table = read_table_file("a.csv", b"n;t;x\n1;0;5\n2;10;6\n3;20;7\n", "t")
    assert table.instants.tolist() == [0, 10, 20]
    with pytest.raises(MovrelError, match="no column 'u'"):
        read_table_file("a.csv", b"n;t\n1;0\n2;10\n", "u")


def test_bad_rows_are_counted() -> None:
    table = read_table_file("a.csv", b"t;x\n0;1\n2;x\n1;3\n1;4\nno;5\n3\n")
    assert table.instants.tolist() == [0, 1, 2, 3]
    assert np.isnan(table.column("x").values[2])
    said = " ".join(table.notes)
    for words in (
        "1 rows without a time",
        "order of their times",
        "1 rows with a time",
        "no numbers",
        "shorter",
    ):
        assert words in said


@pytest.mark.parametrize("data", [b"", b"\x00\x01\x02", b"just words\nand more\n", b"x\n1\n2\n"])
def test_what_is_no_table_is_said(data: bytes) -> None:
    for name in ("a.csv", "a.parquet", "a.xlsx"):
        with pytest.raises(MovrelError):
            read_table_file(name, data)
