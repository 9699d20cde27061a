"""Which foreign code may run: somebody says so once for each content."""

from __future__ import annotations

from movrel.workspace.tables import Content, now


def may_run(digest: str) -> bool:
    """Whether somebody said that the code of that content may run; content that is not kept here may."""
    row = Content.select(Content.allowed).where(Content.digest == digest).tuples().first()
    return row is None or row[0] is not None


def allow(digest: str, by: str = "") -> None:
    """Code of that content may run from now on, in every project that has it."""
    Content.update(allowed=now(), allowed_by=by).where(Content.digest == digest).execute()
