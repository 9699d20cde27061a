"""The sorted system as text a person can read."""

from __future__ import annotations

from movrel.equations.sorting import Block
from movrel.equations.system import System
from movrel.model import expression as x
from movrel.model.flat import FlatEquation


def counts(system: System) -> dict[str, int]:
    """How much of what the system holds."""
    return {
        "variables": len([v for v in system.flat.variables if v.variability not in ("parameter", "constant")]),
        "parameters": len([v for v in system.flat.variables if v.variability == "parameter"]),
        "equations": len(system.flat.equations),
        "aliases": len(system.reduced.aliases) + len(system.reduced.fixed),
        "states": len(system.states),
        "explicit": sum(b.kind == "explicit" for b in system.blocks),
        "linear loops": sum(b.kind == "linear" for b in system.blocks),
        "nonlinear loops": sum(b.kind == "nonlinear" for b in system.blocks),
        "relations": len(system.slots),
    }


def describe(system: System) -> str:
    """Every block in solving order, with what it determines and where it came from."""
    lines = [f"Model {system.flat.name}", ""]
    lines += [f"  {name}: {number}" for name, number in counts(system).items()]
    lines += ["", "States"]
    lines += [f"  {v.name}{f' [{v.unit}]' if v.unit else ''}" for v in system.states] or ["  none"]
    lines += ["", "Start"]
    lines += [line for block in system.initial_blocks for line in _block(block)]
    lines += [f"  note: {note}" for note in system.notes]
    lines += ["", "In every step, in this order"]
    lines += [line for block in system.blocks for line in _block(block)]
    if system.slots:
        lines += ["", "Relations that cause events"]
        for slot, timed in zip(system.slots, system.timed, strict=True):
            lines.append(f"  {slot.text}{'   (at times known in advance)' if timed else ''}")
    if system.reduced.aliases or system.reduced.fixed:
        lines += ["", "Trivial equations, removed"]
        for v in system.flat.variables:
            alias = system.reduced.aliases.get(id(v))
            if alias is not None:
                lines.append(f"  {v.name} = {'-' if alias.sign < 0 else ''}{alias.of.name}")
            elif id(v) in system.reduced.fixed:
                lines.append(f"  {v.name} = {system.reduced.fixed[id(v)]:g}")
    return "\n".join(lines)


def _block(block: Block) -> list[str]:
    if block.kind == "explicit":
        assert block.solution is not None
        return [f"  {block.unknowns[0].name} := {x.show(block.solution)}    {origin(block.equations[0])}"]
    names = ", ".join(v.name for v in block.unknowns)
    lines = [f"  {block.kind} loop of {len(block.unknowns)} for {names}:"]
    return lines + [f"    {x.show(e.left)} = {x.show(e.right)}    {origin(e)}" for e in block.equations]


def origin(e: FlatEquation) -> str:
    """Where an equation came from, for the end of a line."""
    owner = e.component or "the model"
    return f"// {e.kind} of {owner}" + (f", {e.where}" if e.where else "")
