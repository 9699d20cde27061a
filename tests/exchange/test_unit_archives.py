"""Archives and descriptions that are wrong: each is refused in a sentence, none escapes its folder."""

from __future__ import annotations

import io
import random
import zipfile
from collections.abc import Callable
from pathlib import Path

import pytest

from movrel.errors import MovrelError
from movrel.fmi.archive import open_unit, unpack
from movrel.fmi.read_description import read_description
from movrel.fmi.unit_process import binary_of
from tests.exchange.hand_written import CHAIN, SPRING

Build = Callable[..., Path]


def archive(folder: Path, **files: bytes | str) -> Path:
    path = folder / "unit.fmu"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as out:
        for name, content in files.items():
            out.writestr(name.replace("__", "/"), content)
    return path


@pytest.mark.parametrize(
    "name", ["../escaped.txt", "/tmp/escaped.txt", "a/../../escaped.txt", "C:\\escaped.txt"]
)
def test_a_name_that_leads_outside_is_refused(tmp_path: Path, name: str) -> None:
    path = tmp_path / "unit.fmu"
    with zipfile.ZipFile(path, "w") as out:
        out.writestr("modelDescription.xml", SPRING)
        out.writestr(zipfile.ZipInfo(name), "gotcha")
    with pytest.raises(MovrelError, match="wants to write outside its folder"):
        open_unit(path)
    assert not (tmp_path.parent / "escaped.txt").exists()


def test_a_link_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "unit.fmu"
    with zipfile.ZipFile(path, "w") as out:
        out.writestr("modelDescription.xml", SPRING)
        link = zipfile.ZipInfo("resources/link")
        link.external_attr = 0o120777 << 16
        out.writestr(link, "/etc")
    with pytest.raises(MovrelError, match="holds a link"):
        open_unit(path)


def test_an_archive_that_explodes_is_refused(tmp_path: Path) -> None:
    path = archive(
        tmp_path, **{"modelDescription.xml": SPRING, "resources__zeros": bytes(300_000_000)}
    )
    with pytest.raises(MovrelError, match="would grow to 300 MB"):
        open_unit(path)


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "not a ZIP archive"),
        (b"PK\x03\x04 and so on", "not a ZIP archive"),
        (b"\x7fELF", "not a ZIP archive"),
    ],
)
def test_what_is_no_archive_is_said(tmp_path: Path, content: bytes, words: str) -> None:
    path = tmp_path / "unit.fmu"
    path.write_bytes(content)
    with pytest.raises(MovrelError, match=words):
        open_unit(path)


def test_an_archive_without_a_description_is_no_unit(tmp_path: Path) -> None:
    with pytest.raises(MovrelError, match=r"it has no modelDescription\.xml"):
        open_unit(archive(tmp_path, **{"readme.txt": "hello"}))


@pytest.mark.parametrize(
    ("old", "new", "words"),
    [
        ('fmiVersion="2.0"', 'fmiVersion="1.0"', "of version '1.0' of the standard"),
        ('fmiVersion="2.0"', "", "does not say which version"),
        ("<fmiModelDescription", "<!DOCTYPE x><fmiModelDescription", "document type or entities"),
        ("</ModelVariables>", "", "not well-formed XML: mismatched tag in line"),
        ('guid="{hand-written}"', "", "lacks the attribute 'guid'"),
        ('modelIdentifier="unit2"', 'modelIdentifier="../unit2"', "is not a name of a file"),
        (
            'name="v" valueReference="1"',
            'name="x" valueReference="1"',
            "two variables are named 'x'",
        ),
        ('valueReference="4"', 'valueReference="four"', "is not a whole number: 'four'"),
        ('causality="input"', 'causality="inlet"', "is 'inlet', which is not in the standard"),
        (
            'derivative="1"',
            'derivative="99"',
            "is the derivative of variable 99, which does not exist",
        ),
        (
            '<Real start="4" min="0"/>',
            '<Real start="four"/>',
            "the start value of 'stiffness' is not of its type",
        ),
        (
            'declaredType="Length" start="1"',
            'declaredType="Width" start="1"',
            "of the type 'Width', which is not defined",
        ),
        ('<Unknown index="1"/>', '<Unknown index="77"/>', "names a variable that does not exist"),
        ('dependencies="2"', 'dependencies="2" dependenciesKind="sometimes"', "do not go together"),
        ("ModelExchange", "ScheduledExecution", None),
        ("<ModelStructure>", "<Structure>", None),
    ],
)
def test_a_wrong_description_is_refused_naming_the_place(
    old: str, new: str, words: str | None
) -> None:
    text = SPRING.replace(old, new)
    assert text != SPRING
    if words is None:
        read = (
            text.replace("CoSimulation", "Nothing")
            if "Scheduled" in new
            else text.replace("</ModelStructure>", "</Structure>")
        )
        words = "scheduled execution only" if "Scheduled" in new else "has no ModelStructure"
        text = read
    with pytest.raises(MovrelError) as fault:
        read_description(text.encode())
    assert words in str(fault.value)


def test_binaries_of_other_machines_are_named(tmp_path: Path) -> None:
    windows = archive(
        tmp_path, **{"modelDescription.xml": SPRING, "binaries__win32__unit2.dll": b"MZ"}
    )
    with pytest.raises(
        MovrelError, match="contains only a 32-bit Windows binary; this is 64-bit Linux"
    ):
        binary_of(open_unit(windows), "cs")
    two = archive(
        tmp_path,
        **{
            "modelDescription.xml": SPRING,
            "binaries__win32__unit2.dll": b"MZ",
            "binaries__darwin64__unit2.dylib": b"x",
        },
    )
    with pytest.raises(MovrelError, match="only binaries for 64-bit macOS and 32-bit Windows"):
        binary_of(open_unit(two), "cs")
    sources = archive(tmp_path, **{"modelDescription.xml": SPRING, "sources__unit.c": b"int x;"})
    with pytest.raises(
        MovrelError, match=r"contains no binary; this is 64-bit Linux\. It has sources"
    ):
        binary_of(open_unit(sources), "cs")


def test_mangled_descriptions_are_read_or_refused() -> None:
    """Thousands of descriptions with something cut out, doubled or swapped: a sentence, or a description."""
    chance = random.Random(3)
    refused = 0
    for original in (SPRING, CHAIN):
        for _ in range(1500):
            text = bytearray(original.encode())
            for _ in range(chance.randint(1, 4)):
                at = chance.randrange(len(text))
                to = min(len(text), at + chance.randint(1, 30))
                piece = bytes(text[at:to])
                text[at:to] = chance.choice(
                    [b"", piece * 2, bytes(reversed(piece)), b"9" * len(piece), b"\xff"]
                )
            try:
                read_description(bytes(text))
            except MovrelError as fault:
                refused += 1
                assert fault.message
    assert refused > 1500


def test_mangled_archives_are_opened_or_refused(tmp_path: Path, hand_written: Build) -> None:
    whole = hand_written(2).read_bytes()
    chance = random.Random(5)
    path, folder = tmp_path / "unit.fmu", tmp_path / "inside"
    outcomes = set()
    for _ in range(150):
        content = bytearray(whole)
        for _ in range(chance.randint(0, 4)):
            content[chance.randrange(len(content))] = chance.randrange(256)
        path.write_bytes(
            content[: chance.randint(len(content) // 2, len(content))]
            if chance.random() < 0.3
            else content
        )
        try:
            unpack(open_unit(path), folder)
            outcomes.add("opened")
        except MovrelError as fault:
            assert fault.message
            outcomes.add("refused")
    assert outcomes == {"opened", "refused"}
    assert {p.name for p in tmp_path.iterdir()} <= {"unit.fmu", "inside"}


def test_large_numbers_of_files_are_refused(tmp_path: Path) -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as many:
        many.writestr("modelDescription.xml", SPRING)
        for k in range(20_001):
            many.writestr(f"resources/{k}", "")
    path = tmp_path / "unit.fmu"
    path.write_bytes(out.getvalue())
    with pytest.raises(MovrelError, match="a unit may have 20000"):
        open_unit(path)
