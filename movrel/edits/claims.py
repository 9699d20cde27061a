"""The claims of a model; they stand in its text."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal, TypeAlias

from annotated_types import MaxLen

from movrel.analyse.claim_text import read
from movrel.analyse.claims import check
from movrel.analyse.curves import StandIn
from movrel.edits.target import Edited, Target
from movrel.equations.parameters import parameter_values
from movrel.errors import EditFault
from movrel.language import class_annotation
from movrel.model.annotation import VENDOR
from movrel.project.vendor_annotation import claims_of, claims_text

ClaimText: TypeAlias = Annotated[str, MaxLen(2000)]


def _written(target: Target, texts: list[str], summary: str) -> Edited:
    value = claims_text(texts)
    return Edited(
        class_annotation.set_annotation(target.source, target.cls, [VENDOR, "claims"], value),
        summary,
    )


def _checked(target: Target, others: list[str], text: str) -> str:
    """The text of a claim that is understood and names only what the model has."""
    claim = read(text)
    if claim.text in others:
        raise EditFault("the model claims that already.")
    flat = target.loaded.flat
    check(claim, StandIn(flat, parameter_values(flat, {})))
    return claim.text


@dataclass(frozen=True, slots=True)
class AddClaim:
    """Write down what must hold. Refused where it is not understood or names what there is not."""

    text: ClaimText
    do: Literal["add claim"] = "add claim"

    def apply(self, target: Target) -> Edited:
        texts = [c.text for c in claims_of(target.definition)]
        texts.append(_checked(target, texts, self.text))
        return _written(target, texts, f"claim: {texts[-1]}")


@dataclass(frozen=True, slots=True)
class ChangeClaim:
    """Write a claim anew; with no text it goes."""

    number: int
    text: ClaimText | None
    do: Literal["change claim"] = "change claim"

    def apply(self, target: Target) -> Edited:
        texts = [c.text for c in claims_of(target.definition)]
        if not 0 <= self.number < len(texts):
            raise EditFault("this claim is no longer there.", hint="Look at the newest state.")
        before = texts[self.number]
        others = [t for k, t in enumerate(texts) if k != self.number]
        if self.text is None:
            return _written(target, others, f"deleted the claim {before}")
        texts[self.number] = _checked(target, others, self.text)
        return _written(target, texts, f"claim: {texts[self.number]}")
