"""Modelica text of others that is taken into a project."""

from __future__ import annotations

from movrel.exchange.modelica.incoming import (
    Decisions,
    ImportReport,
    import_report,
    read_files,
    texts_to_add,
)
from movrel.workspace import projects, resources
from movrel.workspace.tables import database


def report(project: int, name: str, data: bytes, decisions: Decisions) -> ImportReport:
    """What is to be said about a file or an archive before it is taken in."""
    projects.project(project)
    texts, _ = read_files(name, data)
    return import_report(dict(projects.snapshot(project).files), texts, decisions)


def take(project: int, name: str, data: bytes, decisions: Decisions) -> list[str]:
    """Add the files, all or none; their paths. Raises :class:`movrel.errors.MovrelError`."""
    projects.project(project)
    texts, units = read_files(name, data)
    added = texts_to_add(dict(projects.snapshot(project).files), texts, decisions)
    with database.atomic():
        for path, text in added.items():
            projects.add_file(project, path, text, f"imported {path}")
        for path, content in units.items():
            resources.keep(project, path, content)
    return list(added)
