"""The files beside the models of a project, laid into a folder where models look for them."""

from __future__ import annotations

import hashlib
import os
import tempfile
from pathlib import Path

from movrel.errors import MovrelError
from movrel.workspace.tables import Content, ProjectResource


def resource_folder(project: int) -> str:
    """A folder in which the files of a project lie, empty where it has none; made if it is missing."""
    rows = [
        (path, digest)
        for path, digest in ProjectResource.select(ProjectResource.path, ProjectResource.content)
        .where(ProjectResource.project == project)
        .order_by(ProjectResource.path)
        .tuples()
    ]
    if not rows:
        return ""
    mark = hashlib.sha256(repr(rows).encode()).hexdigest()[:24]
    root = Path(tempfile.gettempdir()) / f"movrel-files-{os.getuid()}"
    folder = root / mark
    root.mkdir(mode=0o700, exist_ok=True)
    if root.stat().st_uid != os.getuid():
        raise MovrelError(f"the folder '{root}' belongs to somebody else.")
    for path, digest in rows:
        target = folder / path
        if not target.is_file():
            target.parent.mkdir(parents=True, exist_ok=True)
            data = Content.select(Content.data).where(Content.digest == digest).scalar()
            with tempfile.NamedTemporaryFile(dir=target.parent, delete=False) as file:
                file.write(bytes(data))
            Path(file.name).replace(target)
    return str(folder)
