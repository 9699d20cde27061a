"""All edits of a model's text."""

from __future__ import annotations

from typing import TypeAlias

from movrel.edits.arrows import BeginIn, ChangeArrow, DeleteArrow, DrawArrow
from movrel.edits.assemblies import Assemble, Dissolve, Expose, Hide
from movrel.edits.claims import AddClaim, ChangeClaim
from movrel.edits.clipboard import Duplicate, Paste
from movrel.edits.components import KeepComponent
from movrel.edits.figures import DeleteFigure, PasteFigures, SetFigure
from movrel.edits.layouts import DeleteLayout, KeepLayout
from movrel.edits.notes import AddNote, ChangeNote, PlacePort, SetSymbol
from movrel.edits.parts import Delete, Insert, Move, Rename
from movrel.edits.port_order import ArrangePort
from movrel.edits.present_names import UsePresentNames
from movrel.edits.rigs import ConnectPairs, CoupleUnits, KeepBoard, OneModel
from movrel.edits.scenarios import (
    AddScenario,
    AlterScenario,
    DeleteScenario,
    KeepChanges,
    PasteScenarios,
    ScenarioClaim,
    ScenarioFromRun,
    ScenarioSetting,
    ScenarioValue,
)
from movrel.edits.start_at import StartAt
from movrel.edits.start_script import SetScript
from movrel.edits.swapping import Swap
from movrel.edits.tables import SetTable
from movrel.edits.texts import Describe, Document, ReplaceText, Setting, TimeUnit
from movrel.edits.unit_exchange import ExchangeUnit
from movrel.edits.values import Parameter, Reset
from movrel.edits.wires import Bend, Bundle, Connect

AnyEdit: TypeAlias = (
    Insert | Move | Rename | Delete | Connect | Bend | Bundle
    | DrawArrow | ChangeArrow | DeleteArrow | BeginIn
    | Setting | TimeUnit | Parameter | StartAt | SetTable | Reset | ReplaceText
    | Paste | Duplicate | Assemble | Dissolve | Expose | Hide | Swap | KeepComponent | ExchangeUnit
    | SetFigure | DeleteFigure | PasteFigures | SetScript
    | AddNote | ChangeNote | Describe | Document | SetSymbol | PlacePort | ArrangePort
    | AddScenario | AlterScenario | DeleteScenario | ScenarioValue | ScenarioSetting | ScenarioClaim
    | PasteScenarios | ScenarioFromRun | KeepChanges
    | CoupleUnits | OneModel | ConnectPairs | KeepBoard
    | KeepLayout | DeleteLayout | AddClaim | ChangeClaim | UsePresentNames
)  # fmt: skip
