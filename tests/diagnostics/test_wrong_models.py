"""Wrong models, and the very sentence that a person gets for each.

``wrong_models.mo`` holds the models. Each begins with ``//# name``; the line ``//! status sentence``
says how the command line ends and what it prints.
"""

from __future__ import annotations

from pathlib import Path

import pytest

from movrel.cli.main import main

PARTS = list(
    (Path(__file__).parent / "wrong_models.mo").read_text(encoding="utf-8").split("//#")[1:]
)


def split(part: str) -> tuple[str, int, str, str]:
    title, _, rest = part.partition("\n")
    say, _, text = rest.partition("\n")
    status, _, sentence = say.removeprefix("//! ").partition(" ")
    return title.strip(), int(status), sentence, text


CASES = [split(part) for part in PARTS]


def test_there_are_enough() -> None:
    assert len(CASES) >= 40
    assert len({title for title, *_ in CASES}) == len(CASES)


@pytest.mark.parametrize(
    ("status", "sentence", "text"), [case[1:] for case in CASES], ids=[case[0] for case in CASES]
)
def test_the_sentence(
    status: int,
    sentence: str,
    text: str,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    capfd: pytest.CaptureFixture[str],
) -> None:
    monkeypatch.chdir(tmp_path)
    Path("quay.mo").write_text(text, encoding="utf-8")
    assert main(["simulate", "quay.mo", "--stop", "2"]) == status
    printed = capfd.readouterr()
    assert printed.err.strip() == sentence
    assert "Traceback" not in printed.out
