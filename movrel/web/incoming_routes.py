"""The addresses at which Modelica text of others is looked at and taken in, and models leave as text."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from flask import Response, request
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from movrel.errors import MovrelError
from movrel.exchange.modelica import incoming as texts_of_others
from movrel.exchange.modelica.incoming import Decisions, ImportReport
from movrel.exchange.modelica.outgoing import archive, one_file
from movrel.project.snapshot import class_tree, definition_of
from movrel.views.fault_view import Fault
from movrel.web import schema as s
from movrel.web.downloads import download
from movrel.web.wire import answer, schema
from movrel.workspace import incoming, projects
from movrel.workspace.announce import announce

api = APIBlueprint(
    "incoming",
    __name__,
    url_prefix="/api",
    abp_responses={"422": schema(Fault), "404": schema(Fault)},
)

Name = Annotated[str, Field(max_length=400)]


class IncomingPath(BaseModel):
    project: int
    name: Name


class DecisionQuery(BaseModel):
    """What was decided of missing classes: ``stub`` by name, ``replace`` as ``missing=ours``."""

    stub: list[Name] = Field(default=[], max_length=1000)
    replace: list[Annotated[str, Field(max_length=800)]] = Field(default=[], max_length=1000)


class FormQuery(BaseModel):
    """``alone`` is one file with all classes that are used, ``archive`` the same as a package folder in a ZIP archive."""

    form: Literal["alone", "archive"] = "alone"


@dataclass(frozen=True, slots=True)
class Taken:
    """The files that were added."""

    files: list[str]


def _decisions(query: DecisionQuery) -> Decisions:
    pairs = [text.partition("=") for text in query.replace]
    return Decisions(frozenset(query.stub), {old: ours for old, _, ours in pairs if ours})


def _body(name: str) -> bytes:
    request.max_content_length = texts_of_others.ARCHIVE_LIMIT
    if (request.content_length or 0) > texts_of_others.ARCHIVE_LIMIT:
        raise MovrelError(
            f"'{name}' is larger than {texts_of_others.ARCHIVE_LIMIT // 1_000_000} MB.",
            hint="Split it into several files.",
        )
    return request.get_data()


@api.post(
    "/projects/<int:project>/incoming/<name>/report",
    operation_id="reportIncoming",
    responses={200: schema(ImportReport)},
)
def report(path: IncomingPath, query: DecisionQuery) -> Response:
    """What is to be said about the file or archive in the body of the request."""
    return answer(incoming.report(path.project, path.name, _body(path.name), _decisions(query)))


@api.post(
    "/projects/<int:project>/incoming/<name>",
    operation_id="takeIncoming",
    responses={200: schema(Taken)},
)
def take(path: IncomingPath, query: DecisionQuery) -> Response:
    """Take in the file or archive in the body of the request."""
    files = incoming.take(path.project, path.name, _body(path.name), _decisions(query))
    announce("project", project=path.project)
    return answer(Taken(files))


@api.get("/projects/<int:project>/models/<model>/modelica", operation_id="modelicaText")
def modelica(path: s.ModelPath, query: FormQuery) -> Response:
    """A model with everything that it is made of."""
    texts = projects.snapshot(path.project)
    definition = definition_of(texts, path.model)
    tree = class_tree(texts)
    if query.form == "archive":
        return download(archive(tree, definition), f"{definition.name}.zip", "application/zip")
    return download(
        one_file(tree, definition), f"{definition.name}.mo", "text/plain; charset=utf-8"
    )
