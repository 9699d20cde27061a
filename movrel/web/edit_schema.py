"""The edits of a model as they travel over HTTP, told apart by ``do``."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from movrel.web.wire import WIRE
from movrel.workspace.editing import Order


class EditOrder(BaseModel):
    """An edit and the revision of the model against which it is made."""

    model_config = WIRE

    revision: int
    #: Its own, by which it is known when it is sent again because the answer was lost.
    id: str = Field(default="", max_length=40)
    #: The mark of the state that the sender has; then only what differs is answered.
    known: str = ""
    edit: Annotated[Order, Field(discriminator="do")]
