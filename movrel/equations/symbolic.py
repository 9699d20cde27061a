"""Names for what CasADi makes; its package names no types."""

from __future__ import annotations

from typing import Any, TypeAlias

#: A symbolic expression or a vector of some.
Symbolic: TypeAlias = Any
#: A function compiled from symbolic expressions.
Compiled: TypeAlias = Any
