"""The documents word for word: what is typed on a page prints what the page says, and what is made is up to date."""

from __future__ import annotations

import doctest
import re
import sys
from pathlib import Path

import pytest

from commands import run_line
from conftest import emberwound

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT / "tools"))

import documents  # noqa: E402
import index_of_names  # noqa: E402
import sessions  # noqa: E402

HAND_WRITTEN = [ROOT / "README.md", *sorted((ROOT / "docs").glob("*.md"))]
TYPED = [page for page in HAND_WRITTEN if "```console" in page.read_text(encoding="utf-8") and page.name != "index.md"]
TALKED = [page for page in HAND_WRITTEN if ">>> " in page.read_text(encoding="utf-8")]


def named(page: Path) -> str:
    return page.name


@pytest.mark.parametrize("page", TYPED, ids=named)
def test_what_is_typed_on_a_page_prints_what_the_page_says(page: Path, tmp_path: Path) -> None:
    text = page.read_text(encoding="utf-8")
    assert sessions.rerun(text, tmp_path) == text


@pytest.mark.parametrize("page", TALKED, ids=named)
def test_sessions_in_python_are_real(page: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    assert emberwound("demo", "crossing", "--out", tmp_path, folder=tmp_path).returncode == 0
    monkeypatch.chdir(tmp_path)
    found = doctest.testfile(str(page), module_relative=False, optionflags=doctest.ELLIPSIS, encoding="utf-8")
    assert found.attempted >= 4 and found.failed == 0


@pytest.fixture(autouse=True)
def _typed_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    """Let what a page types start from what is loaded already, where it needs no shell."""
    shell = sessions.printed_by

    def printed_by(folder: Path, command: str) -> str:
        if re.search(r"[|<>&;*$`]", command) or not re.match(r"emberwound |python \S+\.py", command):
            return shell(folder, command)
        done = run_line(command, folder, {"COLUMNS": sessions.WIDTH})
        said = sessions.SECONDS.sub("in 0.50s", done.stdout + done.stderr)
        return "".join(f"{line.rstrip()}\n" for line in said.splitlines())

    monkeypatch.setattr(sessions, "printed_by", printed_by)


def test_the_first_steps_lead_where_they_say(tmp_path: Path) -> None:
    text = (ROOT / "docs" / "first-steps.md").read_text(encoding="utf-8")
    commands = re.findall(r"^\$ (.+)$", text, re.MULTILINE)
    assert len(commands) > 10 and any("replay" in command for command in commands)
    sessions.rerun(re.sub(r"^\$ (?!emberwound replay).+\n(?:(?!```|\$ ).*\n)*", "", text, flags=re.MULTILINE), tmp_path)
    assert "grey" in (tmp_path / "emberwound-out" / "replay-duel.html").read_text(encoding="utf-8")


def test_every_other_piece_of_a_page_is_run_too() -> None:
    """A piece of TOML or Python is a file of a session, is made from what is run, or stands in a session itself."""
    for page in HAND_WRITTEN:
        by_hand = re.sub(r"<!-- made: .*?<!-- end -->", "", page.read_text(encoding="utf-8"), flags=re.DOTALL)
        for kind, words, body in sessions.FENCE.findall(by_hand):
            is_run = kind in ("console", "text") or "title=" in words or body.startswith((">>> ", "#:schema"))
            assert is_run, (page.name, kind, body[:60])


def test_what_is_made_from_the_code_is_up_to_date() -> None:
    stale = [str(page.relative_to(ROOT)) for page in documents.stale()]
    assert stale == [], "run `python tools/documents.py`"


def test_every_public_name_is_documented() -> None:
    names, known = index_of_names.public_names(), index_of_names.documented()
    assert len(names) > 1000
    assert [name for name in names if name not in known] == []
    for name in ("ew.Bout.enter", "ew.events.Died.credit", "key Shot.life", "reason cooldown", "emberwound run --wav"):
        page, line, _ = known[name]
        told = (ROOT / "docs" / page).read_text(encoding="utf-8").splitlines()[line - 1]
        assert name.split()[-1].rpartition(".")[2] in told


def test_what_a_made_table_says_of_a_key_is_what_the_models_say() -> None:
    told = (ROOT / "docs" / "rulebook.md").read_text(encoding="utf-8")
    assert "| `restitution` | `0` | share from 0 to 1 | What a bounce returns" in told
    assert "| `windup` | `0` | time | Seconds from the press to the first release" in told
    assert not re.search(r"^\| `\w+` \|[^\n]*\|  \|$", told, re.MULTILINE), "a key without a description"


def test_the_pages_are_all_in_the_site_and_link_to_pages_that_are_there() -> None:
    site = (ROOT / "mkdocs.yml").read_text(encoding="utf-8")
    pages = [path.relative_to(ROOT / "docs").as_posix() for path in (ROOT / "docs").rglob("*.md")]
    assert len(pages) > 35
    assert [page for page in pages if not re.search(rf"(: |- ){re.escape(page)}$", site, re.MULTILINE)] == []
    for page in pages:
        folder = (ROOT / "docs" / page).parent
        text = (ROOT / "docs" / page).read_text(encoding="utf-8")
        links = re.findall(r"\]\(([^)#: ]+)(?:#[^)]*)?\)", text)
        assert [link for link in links if not (folder / link).exists()] == [], page
