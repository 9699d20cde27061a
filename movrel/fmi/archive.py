"""Opening the archive of a unit: nothing in it may leave its folder or fill the disk."""

from __future__ import annotations

import hashlib
import stat
import zipfile
import zlib
from dataclasses import dataclass
from pathlib import Path, PurePosixPath

from movrel.errors import MovrelError
from movrel.fmi.description import UnitDescription
from movrel.fmi.read_description import DescriptionFault, read_description
from movrel.fmi.read_terminals import FILE as TERMINALS
from movrel.fmi.read_terminals import read_terminals

#: Largest archive, largest content, number of files, and how much larger content may be than the archive.
ARCHIVE_LIMIT, CONTENT_LIMIT, FILE_LIMIT, RATIO_LIMIT = 500_000_000, 2_000_000_000, 20_000, 200
#: Largest description.
DESCRIPTION_LIMIT = 200_000_000


class UnitFile(MovrelError):
    """The archive of a unit cannot be used."""


@dataclass(frozen=True, slots=True)
class OpenUnit:
    """A unit whose archive was read: its description, its files, and the folder if it was unpacked."""

    path: Path
    description: UnitDescription
    files: tuple[str, ...]
    digest: str

    def binaries(self) -> dict[str, list[str]]:
        """The folders of the binaries (platforms, as the standard names them) and what is in them."""
        found: dict[str, list[str]] = {}
        for name in self.files:
            parts = name.split("/")
            if len(parts) >= 3 and parts[0] == "binaries" and parts[-1]:
                found.setdefault(parts[1], []).append(parts[-1])
        return found


def open_unit(path: Path) -> OpenUnit:
    """Read the description of a unit. Raises :class:`UnitFile` with what is wrong with the archive."""
    with _archive(path) as archive:
        entries = _checked(archive, path)
        names = tuple(e.filename for e in entries)
        if "modelDescription.xml" not in names:
            raise UnitFile(
                f"'{path.name}' is not a unit: it has no modelDescription.xml.",
                hint="Choose a file that ends in .fmu.",
            )
        if archive.getinfo("modelDescription.xml").file_size > DESCRIPTION_LIMIT:
            raise UnitFile(
                f"the description in '{path.name}' is larger than {DESCRIPTION_LIMIT // 1_000_000} MB."
            )
        d = read_description(_content(archive, "modelDescription.xml", path))
        if d.version == 3 and TERMINALS in names:
            try:
                d.terminals = read_terminals(_content(archive, TERMINALS, path))
            except DescriptionFault as fault:  # a unit runs without them
                d.terminals_fault = fault.message
    return OpenUnit(path, d, names, hashlib.sha256(path.read_bytes()).hexdigest())


def unpack(unit: OpenUnit, folder: Path) -> None:
    """Write all files of a unit below a folder. Raises :class:`UnitFile`."""
    root = folder.resolve()
    with _archive(unit.path) as archive:
        for entry in _checked(archive, unit.path):
            target = (root / entry.filename).resolve()
            if not target.is_relative_to(root):
                raise UnitFile(
                    f"'{unit.path.name}' wants to write outside its folder: '{entry.filename}'."
                )
            if entry.is_dir():
                target.mkdir(parents=True, exist_ok=True)
                continue
            target.parent.mkdir(parents=True, exist_ok=True)
            target.write_bytes(_content(archive, entry.filename, unit.path))
            if entry.filename.startswith("binaries/"):
                target.chmod(0o755)


def _archive(path: Path) -> zipfile.ZipFile:
    if not path.is_file():
        raise UnitFile(f"there is no file '{path}'.")
    if path.stat().st_size > ARCHIVE_LIMIT:
        raise UnitFile(f"'{path.name}' is larger than {ARCHIVE_LIMIT // 1_000_000} MB.")
    try:
        return zipfile.ZipFile(path)
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError):
        raise UnitFile(
            f"'{path.name}' is not a ZIP archive, which every unit is.",
            hint="Fetch the file again.",
        ) from None


def _checked(archive: zipfile.ZipFile, path: Path) -> list[zipfile.ZipInfo]:
    entries = archive.infolist()
    if len(entries) > FILE_LIMIT:
        raise UnitFile(f"'{path.name}' holds {len(entries)} files; a unit may have {FILE_LIMIT}.")
    content = 0
    for entry in entries:
        name = entry.filename
        pure = PurePosixPath(name.replace("\\", "/"))
        if pure.is_absolute() or ".." in pure.parts or ":" in name or "\0" in name:
            raise UnitFile(f"'{path.name}' wants to write outside its folder: '{name}'.")
        if stat.S_ISLNK(entry.external_attr >> 16):
            raise UnitFile(
                f"'{path.name}' holds a link, which may lead outside its folder: '{name}'."
            )
        if entry.flag_bits & 1:
            raise UnitFile(f"'{name}' in '{path.name}' is encrypted.")
        content += entry.file_size
        if entry.file_size > 1_000_000 and entry.file_size > RATIO_LIMIT * max(
            entry.compress_size, 1
        ):
            raise UnitFile(
                f"'{name}' in '{path.name}' would grow to {entry.file_size // 1_000_000} MB when unpacked."
            )
    if content > CONTENT_LIMIT:
        raise UnitFile(f"'{path.name}' would grow to {content // 1_000_000} MB when unpacked.")
    return entries


def _content(archive: zipfile.ZipFile, name: str, path: Path) -> bytes:
    try:
        with archive.open(name) as file:
            content = file.read(archive.getinfo(name).file_size + 1)
    except (
        zipfile.BadZipFile,
        OSError,
        EOFError,
        RuntimeError,
        ValueError,
        NotImplementedError,
        zlib.error,
    ):
        raise UnitFile(
            f"'{name}' in '{path.name}' is damaged.", hint="Fetch the file again."
        ) from None
    if len(content) > archive.getinfo(name).file_size:
        raise UnitFile(f"'{name}' in '{path.name}' is larger than the archive says.")
    return content
