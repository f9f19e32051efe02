"""What the library promises of itself: its front door, its light entry, its closed lists, its README."""

from __future__ import annotations

import inspect
import re
import subprocess
import sys
from pathlib import Path
from string import Formatter

import pytest

import emberwound as ew
from emberwound import Reason, draw, events, records, study, views
from emberwound.vocabulary import errors

ROOT = Path(__file__).parent.parent

HEADLESS = """
import sys
from importlib.abc import MetaPathFinder
class Block(MetaPathFinder):
    def find_spec(self, name, path=None, target=None):
        if name.split(".")[0] in {"pandas", "scipy", "matplotlib", "typer", "rich"}:
            raise ImportError(name)
sys.meta_path.insert(0, Block())
import emberwound as ew
bout = ew.Bout.scripted(ew.Rulebook.load(sys.argv[1]), "crossing")
print(sum(len(bout.step()) for _ in range(630)))
"""

LIGHT = """
import sys, emberwound
heavy = {"numpy", "numba", "matplotlib", "pandas", "typer", "pydantic", "rich", "scipy", "msgspec"} & set(sys.modules)
print(sorted(heavy), sorted(set(emberwound.__all__) ^ {n for n in dir(emberwound)}))
"""


def python(code: str, *arguments: str) -> str:
    done = subprocess.run([sys.executable, "-c", code, *arguments], check=True, capture_output=True, text=True)
    return done.stdout.strip()


def test_importing_the_package_loads_nothing_heavy() -> None:
    assert python(LIGHT) == "[] []"


def test_the_front_door_opens_on_every_name_and_no_other() -> None:
    names = dir(ew)
    assert names == sorted(names)
    assert all(getattr(ew, name) is not None for name in names)
    with pytest.raises(AttributeError, match="has no attribute 'Bouts'"):
        _ = ew.Bouts  # type: ignore[attr-defined]
    assert len(names) <= 35, "who reads the list should see the whole of it"


def test_the_rooms_behind_it_open_on_every_name() -> None:
    for room in (draw, events, records, study, views):
        names = vars(room)["__all__"]
        assert room.__doc__ and len(set(names)) == len(names)
        described = [getattr(room, name) for name in names]
        assert all(each.__doc__ for each in described if inspect.isclass(each) or inspect.isfunction(each))
        beneath = {path.stem for path in Path(str(room.__file__)).parent.glob("*.py")}
        assert not beneath & set(names), "a module of that name would take the place of what is public"
    with pytest.raises(AttributeError, match=r"module 'emberwound.study' has no attribute 'Summery'"):
        _ = study.Summery  # type: ignore[attr-defined]


def test_what_is_public_is_said_once_and_what_is_not_says_so() -> None:
    assert ew.__doc__ and "Every other module is internal" in ew.__doc__
    text = (ROOT / "docs" / "architecture.md").read_text(encoding="utf-8")
    rooms = [path.parent for path in (ROOT / "src" / "emberwound").rglob("__init__.py")]
    for room in rooms[1:]:
        assert f"{room.name}/" in text, f"docs/architecture.md has no line for {room.name}"


def test_a_bout_runs_without_tables_pictures_and_command_line(saltglass_path: Path) -> None:
    assert int(python(HEADLESS, str(saltglass_path))) == len(
        ew.run(ew.Rulebook.load(saltglass_path), "crossing").events
    )


def test_every_event_is_in_the_union_and_every_reason_has_its_sentence() -> None:
    assert set(events.AnyEvent.__args__) == set(events.Event.__subclasses__())
    figures = {"victim": "reed", "hurtbox": "head", "place": "(1, 2)", "wait": "0.1 s (6 ticks)"}
    figures |= {"wall": "pier", "pool": "oil", "needs": "5", "has": "2"}
    for reason in Reason:
        assert {name for _, name, _, _ in Formatter().parse(reason.sentence) if name} <= set(figures)
        assert "{" not in reason.say(**figures)


def test_whatever_is_printed_fits_a_line(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "crossing")
    bout = ew.Bout.scripted(saltglass, "crossing")
    view = bout.view()
    for thing in (saltglass, chronicle, chronicle.tracks, bout, bout.seats[0], view, view.bodies[0], bout.snapshot()):
        assert repr(thing).startswith("<") and len(repr(thing)) < 120, repr(thing)[:200]


def test_every_error_is_one_of_ours() -> None:
    ours = {each for each in vars(errors).values() if isinstance(each, type) and issubclass(each, Exception)}
    assert all(issubclass(each, ew.EmberwoundError) for each in ours)
    assert {each.__name__ for each in ours} == {name for name in dir(ew) if name.endswith("Error")}


def test_the_readme_links_to_files_that_exist() -> None:
    links = re.findall(r"\]\(([^)#:]+)\)", (ROOT / "README.md").read_text(encoding="utf-8"))
    assert len(links) > 5
    assert [link for link in links if not (ROOT / link).exists()] == []


def test_a_page_needs_no_pictures_and_a_short_bout_no_compiler(
    saltglass_path: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("NUMBA_CACHE_DIR", str(tmp_path))
    page = """
import sys, emberwound as ew
page = ew.draw.replay_page(ew.run(ew.Rulebook.load(sys.argv[1]), "crossing"))
print(len(page) > 10_000, sorted({"matplotlib", "numba", "pandas", "scipy"} & set(sys.modules)))
"""
    assert python(page, str(saltglass_path)) == "True []"
