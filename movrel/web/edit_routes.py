"""The address at which models are edited."""

from __future__ import annotations

from flask import Response, current_app
from flask_openapi3 import APIBlueprint

from movrel.jobs.queue import order_judging
from movrel.views.fault_view import Fault
from movrel.web.edit_schema import EditOrder
from movrel.web.schema import ModelPath
from movrel.web.wire import answer, schema
from movrel.workspace.editing import apply_edit
from movrel.workspace.model_state import ModelView, model_view

api = APIBlueprint(
    "edits", __name__, url_prefix="/api", abp_responses={"422": schema(Fault), "404": schema(Fault)}
)


@api.post(
    "/projects/<int:project>/models/<model>/edits",
    operation_id="edit",
    responses={200: schema(ModelView), 409: schema(Fault)},
)
def edit(path: ModelPath, body: EditOrder) -> Response:
    applied = apply_edit(path.project, path.model, body.revision, body.edit, sent_as=body.id)
    if applied.claims_changed:
        order_judging(current_app.config["MOVREL_DATABASE"], path.project, path.model)
    return answer(
        model_view(
            path.project, path.model, quick=True, known=body.known, inserted=applied.inserted
        )
    )
