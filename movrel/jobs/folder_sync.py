"""A project that lives in a folder: files and screen follow each other.

What changed on one side since both were the same is carried to the other. What changed on both is brought together where
the changes do not touch each other. Else it is kept twice: what was done on the screen stays, the text of the disk goes
into the history of the file, and everybody is told.
"""

from __future__ import annotations

import difflib
import hashlib
import logging
import os
import tempfile
import threading
import time
from dataclasses import dataclass
from pathlib import Path

import psycopg

from movrel.errors import MovrelError
from movrel.exchange.modelica.incoming import ordered
from movrel.language.merged_text import merged
from movrel.language.parse_cache import parse_cached
from movrel.workspace import folders, resources
from movrel.workspace.announce import CHANNEL, announce
from movrel.workspace.folders import KeptFile
from movrel.workspace.tables import FolderFile, Project, database

#: The hidden folder that is added, and the endings of files with data that models read.
HIDDEN, DATA = ".movrel", (".fmu", ".csv", ".txt")
#: Most files of a folder, and largest text in bytes.
FILES, TEXT_LIMIT = 5_000, 5_000_000
#: Seconds between two looks at the disk.
LOOK = 0.3
#: Texts longer than this are not compared line by line.
LONG = 200_000
#: Longest sentence that is announced.
SENTENCE = 600


@dataclass(frozen=True, slots=True)
class DiskFile:
    """A file on the disk: its bytes as they were when it was last looked at."""

    stamp: tuple[int, int, int]
    digest: str


class FolderSync:
    """Carries changes between a folder and the project that lives in it."""

    def __init__(self, project: int, folder: Path) -> None:
        self.project = project
        self.folder = folder
        #: A folder that is a package itself is named in the paths of the workspace.
        self.prefix = f"{folder.name}/" if (folder / "package.mo").is_file() else ""
        self._seen: dict[str, DiskFile] = {}

    def sync(self) -> None:
        """Look at both sides and carry over what changed."""
        disk = self._on_disk()
        kept, data = folders.model_files(self.project), folders.data_files(self.project)
        noted = folders.noted(self.project)
        changed: list[str] = []
        for path in dict.fromkeys((*disk, *kept, *data, *noted)):
            model = path.endswith(".mo")
            there, note = disk.get(path), noted.get(path)
            mine = kept.get(path) if model else None
            changed_there = there is not None and (note is None or note.digest != there.digest)
            if model and changed_there:
                changed.append(path)
            elif model:
                self._from_screen(path, there, mine, note)
            else:
                self._data(path, there, data.get(path), note)
        self._from_disk(changed, disk, kept, noted)

    # --- the disk ---

    def _on_disk(self) -> dict[str, DiskFile]:
        found: dict[str, DiskFile] = {}
        for root, names, files in os.walk(self.folder):
            names[:] = sorted(n for n in names if not n.startswith("."))
            for name in sorted(files):
                if name.startswith(".") or not name.endswith((".mo", *DATA)):
                    continue
                file = Path(root) / name
                path = self.prefix + file.relative_to(self.folder).as_posix()
                state = self._look(path, file)
                if state is not None:
                    found[path] = state
                if len(found) > FILES:
                    raise MovrelError(
                        f"'{self.folder}' holds more than {FILES} files.",
                        hint="Open a folder that holds the models only.",
                    )
        self._seen = found
        return found

    def _look(self, path: str, file: Path) -> DiskFile | None:
        try:
            stat = file.stat()
            stamp = (stat.st_mtime_ns, stat.st_size, stat.st_ino)
            before = self._seen.get(path)
            if before is not None and before.stamp == stamp:
                return before
            return DiskFile(stamp, hashlib.sha256(file.read_bytes()).hexdigest())
        except OSError:
            return None

    def _digest(self, path: str) -> str:
        """Of the bytes as they are at this moment."""
        try:
            return hashlib.sha256(self._place(path).read_bytes()).hexdigest()
        except OSError:
            return ""

    def _place(self, path: str) -> Path:
        return self.folder / path.removeprefix(self.prefix)

    def _write(self, path: str, data: bytes) -> str:
        """Put bytes into a file, all or nothing; gives their digest."""
        target = self._place(path)
        target.parent.mkdir(parents=True, exist_ok=True)
        mode = target.stat().st_mode & 0o777 if target.exists() else 0o644
        handle, name = tempfile.mkstemp(dir=target.parent, prefix=".", suffix=".tmp")
        with os.fdopen(handle, "wb") as file:
            file.write(data)
        Path(name).chmod(mode)
        Path(name).replace(target)
        return hashlib.sha256(data).hexdigest()

    # --- model files ---

    def _from_disk(
        self, paths: list[str], disk: dict[str, DiskFile], kept: dict[str, KeptFile], noted: dict[str, FolderFile]
    ) -> None:  # fmt: skip
        texts: dict[str, str] = {}
        for path in paths:
            try:
                texts[path] = _decoded(self._place(path).read_bytes(), path)
            except OSError:
                continue  # it went while we looked
            except MovrelError as fault:
                self._cannot_read(path, disk[path], kept.get(path), fault)
        for path in _readable_first(texts):
            mine, note = kept.get(path), noted.get(path)
            parent = note.revision if note is not None else None
            try:
                if mine and parent and parent != mine.revision and mine.text != texts[path]:
                    self._both(path, texts[path], mine, parent)
                else:
                    self._take(path, texts[path], disk[path], mine)
                    if note is not None and note.fault:
                        self._tell("")  # what was said of it holds no more
            except MovrelError as fault:
                self._cannot_read(path, disk[path], mine, fault)

    def _take(self, path: str, text: str, there: DiskFile, mine: KeptFile | None) -> None:
        summary = (
            f"changed by another program: {_difference(mine.text, text)}"
            if mine is not None
            else f"read from {path}"
        )
        with database.atomic():
            revision = folders.take_text(self.project, path, text, summary)
            folders.note(self.project, path, there.digest, revision)
        if mine is None:
            announce("project", project=self.project)
        elif mine.text != text:
            self._announce(path, revision)

    def _announce(self, path: str, revision: int) -> None:
        for model in folders.models_in(self.project, path):
            announce("model", project=self.project, model=model, revision=revision)

    def _both(self, path: str, text: str, mine: KeptFile, parent: int) -> None:
        """Bring both changes together; where they touch each other, what was done on the screen stays, and the text of the
        disk is kept in the history."""
        # Kept for good before the file is written: whatever fails after that, no text is lost.
        beside = folders.keep_beside(
            mine.number, parent, text, "on the disk, at the same time as here"
        )
        together = merged(folders.text_of(parent), mine.text, text)
        if together is not None and _readable(together, path):
            revision = folders.take_text(
                self.project, path, together, "brought together with what changed on the disk"
            )
            digest = self._write(path, self._as_bytes(path, together))
            folders.note(self.project, path, digest, revision)
            self._announce(path, revision)
            self._tell(
                f"{path} was changed on the disk while it was changed here. Both changes are in it now."
            )
            return
        digest = self._write(path, self._as_bytes(path, mine.text))
        folders.note(self.project, path, digest, mine.revision)
        self._tell(
            f"{path} was changed on the disk while the same lines were changed here. What was done here stays; the text of "
            "the disk is in History as 'on the disk, at the same time as here'.",
            file=path,
            revision=beside,
        )

    def _cannot_read(
        self, path: str, there: DiskFile, mine: KeptFile | None, fault: MovrelError
    ) -> None:
        where = f" (line {fault.where.line})" if fault.where else ""
        sentence = f"{path} on the disk cannot be read{where}: {fault.message}"
        folders.note(self.project, path, there.digest, mine.revision if mine else None, sentence)
        announce("project", project=self.project)
        self._tell(f"{sentence} What was read before is shown.")

    def _from_screen(
        self, path: str, there: DiskFile | None, mine: KeptFile | None, note: FolderFile | None
    ) -> None:
        """Carry what changed on the screen alone, or went on either side, to the other."""
        if mine is None:
            if there is not None and self._digest(path) != there.digest:
                return
            if there is not None and note is not None and not note.fault:
                self._place(path).unlink(missing_ok=True)  # deleted on the screen
            if note is not None and not note.fault:
                folders.forget(self.project, path)
        elif there is None and note is not None and note.revision == mine.revision:
            folders.put_aside(mine.number)  # deleted on the disk
            folders.forget(self.project, path)
            announce("project", project=self.project)
        elif note is None or note.revision != mine.revision:
            if there is not None and self._digest(path) != there.digest:
                return  # somebody writes it just now: the next look sees both sides
            if there is not None and note is not None and note.fault:
                self._keep_unreadable(path)
            digest = self._write(path, self._as_bytes(path, mine.text))
            folders.note(self.project, path, digest, mine.revision)
            if note is None:
                self._into_order(path)

    def _keep_unreadable(self, path: str) -> None:
        """Keep a text that cannot be read, before what was done on the screen takes its place."""
        beside = self.folder / HIDDEN / "kept" / f"{path.replace('/', '.')}.{time.time_ns()}"
        beside.parent.mkdir(parents=True, exist_ok=True)
        beside.write_bytes(self._place(path).read_bytes())
        self._tell(
            f"{path} was changed here while its text on the disk could not be read; that text is kept in "
            f"{HIDDEN}/kept/{beside.name}."
        )

    def _as_bytes(self, path: str, text: str) -> bytes:
        """The text with the ends of lines that the file has."""
        target = self._place(path)
        old = target.read_bytes() if target.is_file() else b""
        data = text.replace("\n", "\r\n") if b"\r\n" in old else text
        return (b"\xef\xbb\xbf" if old.startswith(b"\xef\xbb\xbf") else b"") + data.encode()

    def _into_order(self, path: str) -> None:
        """Name a new member of a package in its order, where there is one (specification 13.4.1)."""
        target = self._place(path)
        name = target.parent.name if target.name == "package.mo" else target.stem
        folder = target.parent.parent if target.name == "package.mo" else target.parent
        order = folder / "package.order"
        if order.is_file() and folder.is_relative_to(self.folder):
            names = order.read_text(encoding="utf-8").split()
            if name not in names:
                order.write_text("\n".join([*names, name]) + "\n", encoding="utf-8")

    # --- files with data ---

    def _data(
        self, path: str, there: DiskFile | None, mine: str | None, note: FolderFile | None
    ) -> None:
        """Files with data: the newer side wins, the disk where both changed."""
        known = note.digest if note is not None else None
        if there is not None and there.digest != known and there.digest != mine:
            try:
                resources.keep(self.project, path, self._place(path).read_bytes())
            except MovrelError as fault:
                self._tell(f"{path}: {fault.sentence()}")
            except OSError:
                return
            announce("foreign unit", project=self.project, unit=0, state="new")
        elif mine is not None and mine != known and (there is None or there.digest != mine):
            kept = resources.by_path(self.project, path)
            if kept is not None:
                self._write(path, resources.content_of(kept))
            folders.note(self.project, path, mine, None)
            return
        elif there is None and mine is not None:
            kept = resources.by_path(self.project, path)
            if kept is not None:
                resources.delete(kept.id)
            folders.forget(self.project, path)
            announce("foreign unit", project=self.project, unit=0, state="gone")
            return
        elif mine is None and there is not None:
            self._place(path).unlink(missing_ok=True)
            folders.forget(self.project, path)
            return
        if there is None:
            folders.forget(self.project, path)
        elif known != there.digest:
            folders.note(self.project, path, there.digest, None)

    def _tell(self, sentence: str, **facts: object) -> None:
        announce("folder", project=self.project, sentence=sentence[:SENTENCE], **facts)


def _decoded(data: bytes, path: str) -> str:
    if len(data) > TEXT_LIMIT:
        raise MovrelError(f"it is larger than {TEXT_LIMIT // 1_000_000} MB.")
    try:
        return data.decode("utf-8-sig").replace("\r\n", "\n")
    except UnicodeDecodeError as fault:
        raise MovrelError(f"it is not UTF-8 text (byte {fault.start}).") from None


def _readable(text: str, path: str) -> bool:
    try:
        parse_cached(text, path)
    except MovrelError:
        return False
    return True


def _readable_first(texts: dict[str, str]) -> list[str]:
    """Packages before what lies in them, as far as the texts can be read."""
    readable: dict[str, str] = {}
    others: list[str] = []
    for path, text in texts.items():
        try:
            ordered({path: text})
            readable[path] = text
        except MovrelError:
            others.append(path)
    return [*ordered(readable), *others]


def _difference(old: str, new: str) -> str:
    """Which lines are others now, in a few words."""
    matcher = difflib.SequenceMatcher(None, old.splitlines(), new.splitlines(), autojunk=False)
    if len(old) > LONG:
        return "its text"
    changes = [op for op in matcher.get_opcodes() if op[0] != "equal"]
    if not changes:
        return "its layout"
    first = changes[0][3] + 1
    rest = f" and {len(changes) - 1} more places" if len(changes) > 1 else ""
    return f"line {first}{rest}"


def follow(url: str, project: int, folder: Path, ended: threading.Event) -> None:
    """Keep both sides the same until told to end."""
    sync = FolderSync(project, folder)
    with psycopg.connect(url, autocommit=True) as connection:
        connection.execute(f"LISTEN {CHANNEL}")
        while not ended.is_set():
            try:
                with database.connection_context():
                    sync.sync()
            except (MovrelError, OSError) as fault:
                logging.getLogger(__name__).warning("%s", fault)
            for _ in connection.notifies(timeout=LOOK, stop_after=1):
                pass


def open_folder(folder: Path) -> Project:
    """The project of a folder with all that lies there now."""
    project = folders.folder_project(folder)
    FolderSync(project.id, folder).sync()
    return project
