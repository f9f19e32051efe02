"""Hostile input at one door, for as long as one likes: what is neither done nor refused in our own words is told.

python benchmarks/fuzz.py book|chronicle|calls|command SECONDS [SEED]
"""

from __future__ import annotations

import contextlib
import io
import os
import random
import sys
import tempfile
import traceback
from importlib.resources import files
from pathlib import Path
from time import perf_counter
from typing import TYPE_CHECKING, Any

sys.path.insert(0, str(Path(__file__).parent.parent / "tests"))

import emberwound as ew
from emberwound.cli.main import main as command_line
from test_hostile import HOWS, mutated, range_rules_with_a_bout

if TYPE_CHECKING:
    from collections.abc import Callable

    Door = Callable[[random.Random], None]

SLOW = 1.0
"""Seconds. A try that takes longer is told."""

DEMO = files("emberwound.demo").joinpath("saltglass.toml").read_text(encoding="utf-8")
ODD: list[Any] = [
    *(None, True, 0, 5, -1, 0.5, 10**400, float("nan"), float("inf"), 1e308, 5e-324, 1j, b"x", object(), (), [1, 2, 3]),
    *("", "x", "\ud800", "a\nb", "nope" * 99, "amber", "reed", "flare", "sweep", "guard", "left", "foe", "first", "$$"),
    *((1,), (1, 0), (1, 0, 0), (10**400, 1), (float("nan"), 0), {"a": 1}, {"flare"}, ("flare", "guard"), "cairn"),
]  # fmt: skip
WORDS = [
    *("run", "draw", "wound", "replay", "demo", "knockback", "attack", "shots", "story", "lives", "bars", "arena"),
    *("reaction", "ragdoll", "BOOK", "RECORD", "--json", "--table", "--timing", "--set", "--out", "--hitbox", "--seat"),
    *("--tick", "--ticks", "--against", "--hurtbox", "--distance", "--charge", "--blast", "--guarded", "--shot", "-1"),
    *("crossing", "vent", "flare", "sweep", "wader", "lamplighter", "apex=1", "speed=", "=", "1e999", "9" * 400),
    *("", ".", "/", "no/such.toml", "\u2028", "[/x]", "$$", "--", "-h", "--seed", "--tick-rate", "--arena", "causeway"),
]  # fmt: skip


def book(rng: random.Random) -> None:
    """A demo book with a few changes; a bout of it for a moment."""
    rules = ew.Rulebook.parse(mutated(DEMO, rng), "demo.toml")
    if rng.random() < 0.1:
        bout = ew.Bout.scripted(rules, rng.choice(list(rules.book.bouts)))
        for _ in range(20):
            bout.step()


RECORD = ew.run(range_rules_with_a_bout(), "drill").to_bytes()


def chronicle(rng: random.Random) -> None:
    """A record with bytes lost, doubled and replaced."""
    torn = bytearray(RECORD)
    for _ in range(rng.choice([1, 2, 9])):
        at = rng.randrange(len(torn))
        torn[at : at + rng.choice([0, 1, 1, 30])] = rng.choice(
            [b"", b"\xff", b"9", b"-", b"null", b"{}", b'"', b"[[", b"1e999", b"\n", b"true", torn[at - 40 : at]]
        )
    ew.Chronicle.from_bytes(bytes(torn), partial=rng.random() < 0.3).completed()


class Calls:
    """A bout of the demo that takes any call in any order."""

    def __init__(self) -> None:
        self.rules = ew.Rulebook.parse(DEMO, "demo.toml")
        self.bout = ew.Bout(self.rules, arena="causeway")
        self.saved = self.bout.snapshot()

    def __call__(self, rng: random.Random) -> None:
        """One call with odd arguments."""

        def odd() -> Any:
            return rng.choice(ODD)

        def seat() -> ew.Seat:
            return rng.choice(bout.seats) if bout.seats else bout.enter("wader", at=(1, 0))

        bout, rules = self.bout, self.rules
        odd_key: Any = rng.choice([5, None, "", "."])
        calls: list[Callable[[], object]] = [
            lambda: bout.enter(rng.choice(["wader", "lamplighter", odd()]), at=rng.choice([(2, 0), odd()]), seat=odd()),
            lambda: seat().order(**{rng.choice(["move", "aim", "facing", "press", "hold", "patrol"]): odd()}),
            lambda: seat().place(rng.choice([(1, 0), odd()]), teleport=odd(), grounded=odd(), posture=odd()),
            lambda: seat().resize(rng.choice(["health", odd()]), odd()),
            lambda: seat().become(rng.choice(["wader", odd()])),
            lambda: seat().leave(),
            bout.step,
            lambda: bout.advance(rng.choice([0.1, odd() if odd() not in (1e308, 5) else 0.01]), at_most=0.2),
            lambda: bout.restore(rng.choice([self.saved, odd()])),
            lambda: setattr(self, "saved", bout.snapshot()),
            lambda: bout.view(smooth=odd()).body(odd()),
            lambda: rules.wound(rng.choice(["flare", "sweep", odd()]), rng.choice(["wader", odd()]), **self.how(rng)),
            lambda: rules.knockback_path(rng.choice(["backsweep", odd()]), "wader", arena=rng.choice(["yard", odd()])),
            lambda: rules.reaction(rng.choice(["claws", odd()]), rng.choice(["lamplighter", odd()])),
            lambda: rules.advantage(rng.choice(["sweep", odd()]), rng.choice(["wader", odd()])),
            lambda: rules.timing(odd()),
            lambda: rules.edit({rng.choice(["attacks.flare.damage", "settings", "a.b", odd_key]): odd()}),
            lambda: bout.seat(odd()),
            lambda: bout.view(smooth=odd()).bars,
            bout.board,
        ]
        rng.choice(calls)()

    @staticmethod
    def how(rng: random.Random) -> dict[str, Any]:
        """Some circumstances of a wound."""
        return {name: rng.choice(ODD) for name in rng.sample(HOWS, rng.choice([0, 1, 2]))}


class Commands:
    """The command line with any words, in a folder of its own."""

    def __init__(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        os.chdir(self.folder.name)
        Path("b.toml").write_text(DEMO, encoding="utf-8")
        Path("r.jsonl").write_bytes(RECORD)

    def __call__(self, rng: random.Random) -> None:
        """One command; it may print what it likes, but no traceback."""
        words = [rng.choice(["run", "draw", "wound", "replay"]), *rng.choices(WORDS, k=rng.choice([1, 3, 5, 7]))]
        words = [{"BOOK": "b.toml", "RECORD": "r.jsonl"}.get(word, word) for word in words if "\0" not in word]
        told = io.StringIO()
        sys.argv = ["emberwound", *words]
        with contextlib.redirect_stdout(told), contextlib.redirect_stderr(told):
            try:
                command_line()
            except SystemExit as end:
                if end.code not in (0, 2):
                    raise RuntimeError(f"exit {end.code!r} of {words}") from None
        if "Traceback" in told.getvalue():
            raise RuntimeError(f"a traceback of {words}")


def main() -> None:
    """Try, and tell each finding once."""
    door, seconds = sys.argv[1], float(sys.argv[2])
    rng = random.Random(int(sys.argv[3]) if len(sys.argv) > 3 else 1)  # noqa: S311 (no secret)
    doors: dict[str, Callable[[], Door]] = {
        "book": lambda: book, "chronicle": lambda: chronicle, "calls": Calls, "command": Commands,
    }  # fmt: skip
    attempt, told, seen = doors[door](), dict.fromkeys(("tried", "refused", "done", "slow", "wrong"), 0), set[str]()
    end = perf_counter() + seconds
    while (began := perf_counter()) < end:
        told["tried"] += 1
        state = rng.getstate()
        try:
            attempt(rng)
            told["done"] += 1
        except ew.EmberwoundError as error:
            told["refused"] += 1
            if not 0 < len(str(error)) < 20_000:
                print(f"a message of {len(str(error))} characters: {str(error)[:80]}", flush=True)
        except Exception as error:  # noqa: BLE001 (this is what is looked for)
            told["wrong"] += 1
            place = traceback.extract_tb(error.__traceback__)[-1]
            where = f"{type(error).__name__} at {Path(place.filename).name}:{place.lineno}"
            if where not in seen:
                seen.add(where)
                print(f"{where}: {str(error)[:200]} (state {hash(str(state))})", flush=True)
        if perf_counter() - began > SLOW:
            told["slow"] += 1
    print(f"{door}: {', '.join(f'{count:,} {what}' for what, count in told.items())} in {seconds:.0f} s")


if __name__ == "__main__":
    main()
