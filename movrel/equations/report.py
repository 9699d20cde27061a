"""The sorted system as text a person can read."""

from __future__ import annotations

from movrel.equations.sorting import Block
from movrel.equations.system import System
from movrel.model import expression as x
from movrel.model.expression import Variable
from movrel.model.flat import FlatEquation


def counts(system: System) -> dict[str, int]:
    """How much of what the system holds."""
    return {
        "variables": len(
            [v for v in system.flat.variables if v.variability not in ("parameter", "constant")]
        ),
        "parameters": len([v for v in system.flat.variables if v.variability == "parameter"]),
        "equations": len(system.flat.equations),
        "aliases": len(system.reduced.aliases) + len(system.reduced.fixed),
        "states": len(system.states),
        "explicit": sum(b.kind == "explicit" for b in system.blocks),
        "linear loops": sum(b.kind == "linear" for b in system.blocks),
        "nonlinear loops": sum(b.kind == "nonlinear" for b in system.blocks),
        "discrete variables": len(_discrete(system)),
        "relations": len(system.slots),
        "differentiated equations": system.ordered.reduction.differentiated,
    }


def describe(system: System) -> str:
    """Every block in solving order, with what it determines and where it came from."""
    lines = [f"Model {system.flat.name}", ""]
    lines += [f"  {name}: {number}" for name, number in counts(system).items()]
    lines += ["", "States"]
    lines += [
        f"  {v.name}{f' [{v.unit}]' if v.unit else ''}{_why(system, v)}" for v in system.states
    ] or ["  none"]
    lines += _constraints(system)
    lines += ["", "Start"]
    lines += [line for block in system.initial_blocks for line in _block(block)]
    lines += [f"  note: {note}" for note in system.notes]
    lines += ["", "In every step, in this order"]
    lines += [line for block in system.blocks for line in _block(block)]
    ordered = system.ordered
    if ordered.reinits or ordered.terminations:
        lines += ["", "At events"]
        lines += [
            f"  reinit {x.show(r.state)} := {x.show(r.value)} when {x.show(r.active)}"
            for r in ordered.reinits
        ]
        lines += [f"  end of the run when {x.show(e.active)}" for e in ordered.terminations]
    if system.slots:
        lines += ["", "Relations that cause events"]
        for slot, timed in zip(system.slots, system.timed, strict=True):
            lines.append(f"  {slot.text}{'   (at times known in advance)' if timed else ''}")
    if system.memory.samples:
        lines += ["", "Samplings", *(f"  {x.show(e)}" for e in system.memory.samples)]
    if system.memory.delays:
        lines += ["", "Delays", *(f"  {x.show(e)}" for e in system.memory.delays)]
    if system.reduced.aliases or system.reduced.fixed:
        lines += ["", "Trivial equations, removed"]
        for v in system.flat.variables:
            alias = system.reduced.aliases.get(v)
            if alias is not None:
                lines.append(f"  {v.name} = {'-' if alias.sign < 0 else ''}{alias.of.name}")
            elif v in system.reduced.fixed:
                lines.append(f"  {v.name} = {system.reduced.fixed[v]:g}")
    return "\n".join(lines)


def _discrete(system: System) -> list[Variable]:
    return [v for v in system.solved if v.variability == "discrete"]


def _why(system: System, v: Variable) -> str:
    """Why a variable is a state, where there was a choice."""
    reduction = system.ordered.reduction
    among: set[Variable] = set()
    for block in reduction.constraints:
        for column, depth in zip(block.columns, block.column_depth, strict=True):
            among |= {reduction.chains.down(column, k) for k in range(1, depth + 1)}
    if v not in among:
        return ""
    if v.state_select not in ("default", "avoid", "never"):
        return f"   (chosen: stateSelect = {v.state_select})"
    return (
        "   (chosen: its start value is fixed)"
        if system.reduced.starts.of(v).fixed
        else "   (chosen)"
    )


def _constraints(system: System) -> list[str]:
    """What ties states together, and which derivatives became plain unknowns for it."""
    reduction = system.ordered.reduction
    if not reduction.constraints:
        return []
    lines = ["", "Constraints between would-be states"]
    lines += [
        f"  {e.as_written()}   {origin(e)}"
        for e in reduction.equations[: len(reduction.equations)]
        if _is_constraint(e, system)
    ]
    names = [
        v.name for v in reduction.variables if v in reduction.dummies(system.ordered.selection)
    ]
    lines.append(f"  plain unknowns instead of derivatives of states: {', '.join(names)}")
    if reduction.dynamic:
        lines.append("  the choice is made anew during a run when it wears out")
    return lines


def _is_constraint(e: FlatEquation, system: System) -> bool:
    """Whether an equation of the text was differentiated for the sake of the others."""
    places = {
        (d.where, d.component) for d in system.ordered.reduction.equations if d.differentiated
    }
    return not e.differentiated and (e.where, e.component) in places


def _block(block: Block) -> list[str]:
    if block.kind == "explicit":
        assert block.solution is not None
        v = block.unknowns[0]
        mark = "   [discrete]" if v.variability == "discrete" else ""
        return [f"  {v.name} := {x.show(block.solution)}{mark}    {origin(block.equations[0])}"]
    if block.inner:
        lines = [
            f"  nonlinear loop of {len(block.unknowns)}, torn at {', '.join(v.name for v in block.tears)}:"
        ]
        lines += [f"    {v.name} := {x.show(value)}" for v, value in block.inner]
        return lines + [
            f"    {x.show(e.left)} = {x.show(e.right)}    {origin(e)}" for e in block.residuals
        ]
    names = ", ".join(v.name for v in block.unknowns)
    lines = [f"  {block.kind} loop of {len(block.unknowns)} for {names}:"]
    return lines + [
        f"    {x.show(e.left)} = {x.show(e.right)}    {origin(e)}" for e in block.equations
    ]


def origin(e: FlatEquation) -> str:
    """Where an equation came from, for the end of a line."""
    owner = e.component or "the model"
    return f"// {e.origin} of {owner}" + (f", {e.where}" if e.where else "")
