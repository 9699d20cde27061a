"""What kinds of operators an expression holds, as bits of a number, so that passes can leave most expressions alone."""

from __future__ import annotations

DER, PRE, FIRES, INITIAL, TERMINAL, SAMPLE, DELAY, UNIT, RELATION, ROUNDING, HOMOTOPY = (
    1 << k for k in range(11)
)

#: The bit of each operator that has one.
TRAITS = {
    "der": DER, "pre": PRE, "fires": FIRES, "initial": INITIAL, "terminal": TERMINAL, "sample": SAMPLE, "delay": DELAY,
    "unit": UNIT, "homotopy": HOMOTOPY,
    **dict.fromkeys(("<", "<=", ">", ">=", "==", "<>"), RELATION),
    **dict.fromkeys(("floor", "ceil", "integer", "mod", "rem", "div"), ROUNDING),
}  # fmt: skip
