"""What a type checker sees of the library, and what is said at run time where no checker ran."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import msgspec
import pytest

import emberwound as ew
from conftest import range_rules, run
from emberwound import events

ROOT = Path(__file__).parent.parent

GOOD = """
import emberwound as ew
from emberwound.events import Died, Wounded

rules = ew.Rulebook.load("book.toml")
bout = ew.Bout(rules, arena="range")

@bout.on(Died)
def fell(event: Died) -> None:
    print(event.overkill, event.to_dict())

total: float = sum(each.amount for each in bout.step() if isinstance(each, Wounded))
report: ew.study.WoundReport = rules.wound("dart", "post", combo_count=2)
view: ew.views.View = bout.view(smooth=True)
body: ew.views.BodyView = view.body("amber")
figure = ew.draw.draw_arena(rules, "range")
"""

INSIDE = """
from emberwound.bout.state.world import World
from emberwound.vocabulary.events import Died, Wounded

def tell(world: World, died: Died) -> None:
    world.emit(died)
    world.emit({})
"""

WRONG = {
    "print(Wounded.amuont)": "has no attribute",
    "for each in bout.step():\n    if isinstance(each, Wounded):\n        print(each.amuont)": "has no attribute",
    "Wounded(seq=1, amuont=3.0)": 'Unexpected keyword argument "amuont"',
    'rules.wound("dart", "post", gaurded=True)': 'Unexpected keyword argument "gaurded"',
    'rules.wound("dart", "post", distance="far")': 'incompatible type "str"',
    "@bout.on(Died)\ndef other(event: Wounded) -> None: ...": "incompatible type",
    "@bout.on(Died)\nasync def later(event: Died) -> None: ...": "incompatible type",
    "bout.advance('1')": 'incompatible type "str"',
    "ew.Bouts": "has no attribute",
    "bout.view().body('amber').pols": "has no attribute",
}


def mypy(code: str, folder: Path) -> str:
    """What the type checker says of a program that uses the library."""
    file = folder / "program.py"
    file.write_text(code, encoding="utf-8")
    cache = os.environ.get("MYPY_CACHE_DIR", str(ROOT / ".mypy_cache"))
    options = ["--strict", "--cache-dir", cache, "--config-file", str(ROOT / "pyproject.toml")]
    command = [sys.executable, "-m", "mypy", *options, str(file)]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
    return done.stdout + done.stderr


def test_a_type_checker_finds_each_misspelt_field_and_keyword(tmp_path: Path) -> None:
    assert "Success" in mypy(GOOD, tmp_path)
    lines, wanted = GOOD.splitlines(), {}
    for snippet, message in WRONG.items():
        wanted[len(lines) + len(snippet.splitlines()), len(lines) + 1] = message
        lines += snippet.splitlines()
    told = mypy("\n".join(lines), tmp_path).splitlines()
    for (last, first), message in wanted.items():
        at = [line for line in told if any(f"program.py:{number}:" in line for number in range(first, last + 1))]
        assert any(message in line for line in at), (lines[first - 1 : last], at)


def test_a_type_checker_knows_what_the_running_world_may_tell(tmp_path: Path) -> None:
    told = mypy(INSIDE, tmp_path)
    assert told.count("error:") == 1 and 'to "emit" of "World" has incompatible type' in told


def test_a_handler_of_another_event_or_an_async_one_is_an_error(recwarn: pytest.WarningsRecorder) -> None:
    bout = ew.Bout(range_rules(), arena="range")

    async def later(event: events.Died) -> None: ...

    def wounded(event: events.Wounded) -> None: ...

    def many(event: events.Died | events.Wounded) -> None: ...

    def whatever(event: Any) -> None: ...

    on: Any = bout.on
    with pytest.raises(ew.BoutError, match=r"on: .*later is async, and nobody would await it"):
        on(events.Died)(later)
    with pytest.raises(ew.BoutError, match=r"on: .*wounded takes Wounded, and would be called with Died"):
        on(events.Died)(wounded)
    with pytest.raises(ew.BoutError, match=r"cannot be called; give a function that takes one event"):
        on(events.Died)(7)
    with pytest.raises(ew.BoutError, match=r"on: give a type of event, such as emberwound.events.Died; got 'died'"):
        on("died")
    for takes, function in (("(x, y)", lambda x, y: (x, y)), ("()", lambda: None)):
        with pytest.raises(ew.BoutError, match=re.escape(f"takes {takes}; give a function that takes one event")):
            on(events.Died)(function)

    class Later:
        async def __call__(self, event: events.Died) -> None: ...

    with pytest.raises(ew.BoutError, match="is async, and nobody would await it"):
        on(events.Died)(Later())
    assert on(events.Died)(many) is many
    assert on(events.Wounded)(whatever) is whatever
    bout.off(many)
    assert not recwarn.list


def test_every_event_of_a_bout_is_plain_data(saltglass: ew.Rulebook) -> None:
    seen = set()
    for name in saltglass.book.bouts:
        for event in run(ew.Bout.scripted(saltglass, name), 42):
            plain = event.to_dict()
            assert plain["type"] == event.__struct_config__.tag
            assert set(plain) == {"type", *event.__struct_fields__}
            assert msgspec.convert(msgspec.json.decode(msgspec.json.encode(plain)), type(event)) == event
            seen.add(plain["type"])
    assert len(seen) > 25


def test_what_a_tick_gives_is_the_callers_own(saltglass: ew.Rulebook) -> None:
    bout, twin = ew.Bout.scripted(saltglass, "crossing"), ew.Bout.scripted(saltglass, "crossing")
    for _ in range(120):
        found, other = bout.step(), twin.step()
        assert found == other
        found.clear()
    assert bout.digest() == twin.digest()
    assert all(type(each) is list for each in (bout.step(), bout.advance(0), bout.advance(0.1)))
