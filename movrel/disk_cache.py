"""Files that save work done before, kept by content: bounded in size, shared by processes, safe to delete."""

from __future__ import annotations

import os
import tempfile
import zlib
from pathlib import Path

#: Bytes that may be kept, and the share that is left when room is made.
LIMIT, LEFT = 500_000_000, 0.7


def cache_folder() -> Path | None:
    """Where such files are kept: ``MOVREL_CACHE``, else the user's folder for caches; None with ``MOVREL_CACHE=off``."""
    given = os.environ.get("MOVREL_CACHE", "")
    if given == "off":
        return None
    if given:
        return Path(given)
    try:
        return Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "movrel"
    except RuntimeError:  # nobody's home
        return None


class DiskCache:
    """Contents by key in one folder, which belongs to this user alone.

    Whatever goes wrong with the disk is no fault of the caller's: nothing is read or kept then.
    """

    def __init__(self, name: str, limit: int = LIMIT) -> None:
        self._name, self._limit = name, limit

    def read(self, key: str) -> bytes | None:
        """What was kept under a key, or None."""
        folder = self._folder()
        if folder is None:
            return None
        path = folder / key
        try:
            content = zlib.decompress(path.read_bytes())
            os.utime(path)  # used just now
            return content
        except FileNotFoundError:
            return None
        except (OSError, zlib.error):
            self.forget(key)
            return None

    def write(self, key: str, content: bytes) -> None:
        """Keep something; what was not used for longest leaves when there is too much."""
        folder = self._folder()
        if folder is None:
            return
        packed = zlib.compress(content, 1)
        part: str | None = None
        try:
            handle, part = tempfile.mkstemp(prefix=".", dir=folder)
            with os.fdopen(handle, "wb") as file:
                file.write(packed)
            os.replace(part, folder / key)
            self._make_room(folder)
        except OSError:
            if part is not None:
                Path(part).unlink(missing_ok=True)

    def forget(self, key: str) -> None:
        """Drop what is kept under a key."""
        folder = self._folder()
        if folder is not None:
            try:
                (folder / key).unlink(missing_ok=True)
            except OSError:
                return

    def _folder(self) -> Path | None:
        """The folder, made if need be; None where others could put files into it."""
        base = cache_folder()
        if base is None:
            return None
        folder = base / self._name
        try:
            folder.mkdir(mode=0o700, parents=True, exist_ok=True)
            about = folder.stat()
        except OSError:
            return None
        return folder if about.st_uid == os.getuid() and not about.st_mode & 0o022 else None

    def _make_room(self, folder: Path) -> None:
        files = []
        for entry in os.scandir(folder):
            try:
                about = entry.stat()
            except FileNotFoundError:
                continue
            files.append((about.st_mtime, about.st_size, entry.path))
        total = sum(size for _, size, _ in files)
        if total <= self._limit:
            return
        for _, size, path in sorted(files):
            Path(path).unlink(missing_ok=True)
            total -= size
            if total <= LEFT * self._limit:
                return
