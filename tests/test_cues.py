"""Cues: what is to be heard and seen, by whom, and what of it is too much; and the sounds as a file."""

from __future__ import annotations

import wave
from collections import Counter
from typing import TYPE_CHECKING, Any

import numpy as np
import pytest

import emberwound as ew
from conftest import emberwound, only, steps
from emberwound import events
from emberwound.sound import SAMPLE_RATE, mix

if TYPE_CHECKING:
    from pathlib import Path

BOOK = """
[settings]
tick_rate = {tick_rate}
[kinds.iron]
[kinds.tar]
[fighters.smith]
attacks = ["jab", "daub", "balm"]
respawn_seconds = 1
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 100, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
[attacks.jab]
kind = "iron"
damage = {damage}
cooldown = {cooldown}
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing" }}
[attacks.daub]
kind = "tar"
damage = 3
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing" }}
[attacks.balm]
kind = "tar"
heal = 50
layers = ["body"]
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing" }}
[arenas.forge]
floor = 0
bounds = {{ low = [-20, -1], high = [20, 9] }}
[cues.clang]
on = ["wounded"]
{cue}
[bouts.drill]
arena = "forge"
seconds = {seconds}
seats.x = {{ fighter = "smith", at = [0, 0] }}
seats.y = {{ fighter = "smith", at = [3, 0], lives = "endless" }}
orders = [{{ time = 0, seat = "x", hold = ["jab"] }}]
"""


def book(cue: str = "", **parts: Any) -> ew.Rulebook:
    figures = {"tick_rate": 60, "damage": 2, "cooldown": 0.1, "seconds": 1, "cue": cue, **parts}
    return ew.Rulebook.parse(BOOK.format(**figures), "forge.toml")


def told(cue: str = "", **parts: Any) -> tuple[list[events.Wounded], list[events.Cue], list[events.CueSkipped]]:
    chronicle = ew.run(book(cue, **parts), "drill")
    return tuple(only(kind, chronicle.events) for kind in (events.Wounded, events.Cue, events.CueSkipped))  # type: ignore[return-value]


def test_each_hit_gives_a_cue_at_its_own_exact_time_and_place() -> None:
    for rate in (30, 60, 120):
        hits, cues, silent = told("seconds = 0.3", tick_rate=rate)
        assert len(hits) == len(cues) == 10 and not silent
        for hit, cue in zip(hits, cues, strict=True):
            assert (cue.cause, cue.time, cue.starts, cue.position) == (hit.seq, hit.time, hit.time, hit.position)
            assert cue.ends == pytest.approx(hit.time + 0.3) and (cue.seat, cue.by, cue.cuts) == (None, "x", None)


@pytest.mark.parametrize(
    ("cue", "starts", "why"),
    [
        ("seconds = 0.35\nmax_at_once = 2", [0, 0.1, 0.4, 0.5, 0.8, 0.9], ew.Reason.CUE_FULL),
        ("seconds = 0.2\nmax_at_once = 2", [n / 10 for n in range(10)], None),
        ("seconds = 0.5\ngap = 0.3", [0, 0.3, 0.6, 0.9], ew.Reason.CUE_TOO_SOON),
        ('seconds = 0.5\noverlap = "restart"', [n / 10 for n in range(10)], None),
        ('seconds = 0.5\noverlap = "restart"\ngap = 0.25', [0, 0.3, 0.6, 0.9], ew.Reason.CUE_TOO_SOON),
        ('seconds = 0.25\noverlap = "wait"\nmax_at_once = 2', [0, 0.25, 0.5, 0.75, 1.0], ew.Reason.CUE_FULL),
        ('seconds = 0.05\noverlap = "wait"\nmax_at_once = 9\ngap = 0.15', [0.15 * n for n in range(10)], None),
    ],
)
@pytest.mark.parametrize("rate", [30, 60, 240])
def test_what_overlaps_sounds_together_starts_anew_or_waits(
    cue: str, starts: list[float], why: ew.Reason | None, rate: int
) -> None:
    hits, cues, silent = told(cue, tick_rate=rate)
    assert [each.starts for each in cues] == pytest.approx(starts)
    assert len(cues) + len(silent) == len(hits) == 10, "every hit is heard, or said to be silent"
    assert {each.reason for each in silent} == ({why} if why else set())


def test_a_cue_that_starts_anew_says_what_it_cuts() -> None:
    _, cues, _ = told('seconds = 0.15\noverlap = "restart"', cooldown=0.1)
    assert [each.cuts for each in cues] == [None, *(each.seq for each in cues[:-1])]
    _, cues, _ = told('seconds = 0.05\noverlap = "restart"', cooldown=0.1)
    assert [each.cuts for each in cues] == [None] * 10, "what is over is not cut"


@pytest.mark.parametrize(("audience", "hears"), [("everyone", None), ("victim", "y"), ("striker", "x")])
def test_the_audience_is_a_seat_or_all_and_listeners_of_that_seat_hear_it(audience: str, hears: str | None) -> None:
    bout = ew.Bout.scripted(book(f'audience = "{audience}"\nseconds = 0.5'), "drill")
    heard: list[events.Cue] = []
    bout.on(events.Cue, seat=hears)(heard.append)
    happened = steps(bout, 40)
    assert heard == only(events.Cue, happened) and {each.seat for each in heard} == {hears}
    assert {view.hears for view in bout.view().cues} == {hears}


def test_what_one_seat_hears_does_not_silence_anothers() -> None:
    bout = ew.Bout(book('audience = "victim"\nseconds = 9\nmax_at_once = 1'), arena="forge")
    x = bout.enter("smith", seat="x", at=(0, 0), facing="right")
    y = bout.enter("smith", seat="y", at=(3, 0), facing="left")
    x.order(press="jab")
    y.order(press="jab")
    assert [each.seat for each in only(events.Cue, steps(bout, 3))] == ["y", "x"]
    x.leave()
    steps(bout, 1)
    assert [view.hears for view in bout.view().cues] == ["y"]
    bout.enter("smith", seat="z", at=(0, 0))
    y.order(press="jab")
    assert [each.seat for each in only(events.Cue, steps(bout, 30))] == ["z"], "a free place is a quiet one"


def test_only_losses_and_only_great_ones_where_asked() -> None:
    rules = book(
        'min_points = 20\n[cues.faint]\non = ["wounded"]\nbelow = 0.5\n[cues.tarred]\non = ["wounded", "healed"]\n'
        'kinds = ["tar"]\n[cues.jabbed]\non = ["wounded"]\nattacks = ["jab"]\n[cues.gone]\non = ["died", "respawned"]',
        damage=30,
        cooldown=0.5,
    )
    bout = ew.Bout(rules, arena="forge")
    x = bout.enter("smith", seat="x", at=(0, 0), facing="right", team="forge")
    bout.enter("smith", seat="y", at=(3, 0))
    counted: list[tuple[str, Counter[str]]] = []
    for press in ("jab", "daub", "jab", "balm", "jab", "jab"):
        x.order(press=press)
        cues = only(events.Cue, steps(bout, 40))
        counted.append((press, Counter(each.cue for each in cues)))
    hit = Counter(["clang", "jabbed"])
    assert counted[:3] == [("jab", hit), ("daub", Counter(["tarred"])), ("jab", hit + Counter(["faint"]))]
    assert counted[3] == ("balm", Counter(["tarred"])), "what mends gives no cue of loss"
    assert counted[4:] == [("jab", hit), ("jab", hit + Counter(["faint"]))], "once each time it was above"


def test_cues_of_this_moment_last_their_time_and_come_back_with_a_snapshot() -> None:
    bout = ew.Bout.scripted(book("seconds = 0.5\nmax_at_once = 3\npitch = 300\nstrength = 0.5", cooldown=0.2), "drill")
    steps(bout, 15)
    views = bout.view().cues
    assert [(view.cue, view.pitch, view.strength, view.medium) for view in views] == [("clang", 300, 0.5, "sound")] * 2
    for view in views:
        assert view.seconds + view.seconds_left == pytest.approx(0.5) and view.position == pytest.approx((2.7, 1.0))
    saved = bout.snapshot()
    later = steps(bout, 30)
    bout.restore(saved)
    assert bout.view().cues == views and steps(bout, 30) == later


def test_the_pitch_varies_by_the_seed_and_by_no_more_than_its_share() -> None:
    def pitches(seed: int, cue: str) -> list[float]:
        return [each.pitch for each in only(events.Cue, ew.run(book(cue), "drill", seed=seed).events)]

    spread = "pitch = 500\npitch_spread = 0.1"
    ours = pitches(1, spread)
    assert ours == pitches(1, spread) != pitches(2, spread)
    assert len(set(ours)) == 10 and 450 <= min(ours) < 500 < max(ours) <= 550
    assert pitches(1, "pitch = 500") == [500.0] * 10


def test_cues_change_nothing_of_a_bout() -> None:
    def pitches(rules: ew.Rulebook) -> list[tuple[float, float]]:
        return [(each.time, each.vital_left) for each in only(events.Wounded, ew.run(rules, "drill").events)]

    silent = ew.Rulebook.parse(
        BOOK.format(tick_rate=60, damage=2, cooldown=0.1, seconds=1, cue="").replace(
            '[cues.clang]\non = ["wounded"]', ""
        )
    )
    assert pitches(book("pitch_spread = 1")) == pitches(silent)


def onsets(track: np.ndarray[Any, np.dtype[Any]], rate: int) -> int:
    """How many strokes a listener hears: rises of the loudness of 5 ms to more than double of the 10 ms before."""
    step = rate // 200
    loud = np.sqrt((track[: len(track) // step * step].reshape(-1, step) ** 2).mean(axis=1))
    before = np.maximum(np.maximum(np.roll(loud, 1), np.roll(loud, 2)), 0.004)
    before[:2] = 0.004
    rises = loud > 1.5 * before
    return int((rises & ~np.roll(rises, 1) & ~np.roll(rises, 2)).sum())


@pytest.mark.parametrize(
    ("cue", "heard"),
    [("seconds = 0.3", 10), ("seconds = 0.3\ngap = 0.25", 4), ('seconds = 0.3\noverlap = "wait"\nmax_at_once = 1', 4)],
)
def test_ten_hits_in_a_second_are_heard_as_ten(cue: str, heard: int, tmp_path: Path) -> None:
    path = tmp_path / "forge.toml"
    parts = {"tick_rate": 60, "damage": 2, "cooldown": 0.1, "seconds": 1}
    path.write_text(BOOK.format(cue=cue, **parts), encoding="utf-8")
    wav = tmp_path / "drill.wav"
    assert emberwound("run", path, "--wav", wav, folder=tmp_path).returncode == 0
    with wave.open(str(wav), "rb") as file:
        rate = file.getframerate()
        track = np.frombuffer(file.readframes(file.getnframes()), "<i2") / 32767.0
    assert len(track) >= rate and 0.1 < np.abs(track).max() <= 1.0
    assert onsets(track, rate) == heard


@pytest.mark.parametrize("bout", ["crossing", "vent", "ledge", "pans", "yard", "passage"])
def test_every_hit_of_the_demo_is_heard(saltglass: ew.Rulebook, bout: str) -> None:
    others = {f"cues.{name}": None for name in saltglass.book.cues if name != "clang"}
    chronicle = ew.run(saltglass.edit({**others, "cues.clang.gap": 0, "cues.clang.max_at_once": 16}), bout)
    hits = [event for event in only(events.Wounded, chronicle.events) if event.amount >= 1]
    assert onsets(mix(chronicle), SAMPLE_RATE) == len(hits) > 1


def test_what_cannot_be_written_as_sound_says_so(tmp_path: Path) -> None:
    path = tmp_path / "forge.toml"
    parts = {"tick_rate": 60, "damage": 2, "cooldown": 0.1, "seconds": 1}
    path.write_text(BOOK.format(cue='medium = "flash"', **parts), encoding="utf-8")
    for wav, says in (("a.wav", "no cue is a sound"), ("a.mp3", "sounds are written as .wav; got '.mp3'")):
        done = emberwound("run", path, "--wav", wav, folder=tmp_path)
        assert (done.returncode, done.stdout) == (2, "") and says in done.stderr


@pytest.mark.parametrize(
    ("cue", "says"),
    [
        ('[cues.x]\non = ["wound"]', 'cues.x.on[0]: there is no event "wound"'),
        (
            '[cues.x]\non = ["died"]\nmin_points = 3',
            "cues.x.min_points: on died; has a meaning on shot_struck, wounded, healed alone",
        ),
        ('[cues.x]\non = ["healed"]\nbelow = 0.5', "cues.x.below: on healed"),
        ('[cues.x]\non = ["wounded"]\nattacks = ["jap"]', "did you mean 'jab'"),
        ('[cues.x]\non = ["wounded"]\nkinds = ["stone"]', 'cues.x.kinds[0]: there is no kind "stone"'),
        ('[cues.x]\non = ["wounded"]\noverlap = "restart"\nmax_at_once = 2', "there is one at a time; leave it out"),
        ('[cues.x]\non = ["wounded"]\ngap = -1', "cues.x.gap: -1"),
        ("[cues.x]\non = []", "cues.x.on: "),
        ('[cues.x]\non = ["cue"]', 'there is no event "cue"'),
    ],
)
def test_cues_that_cannot_be_are_refused_at_load(cue: str, says: str) -> None:
    with pytest.raises(ew.RulebookError) as raised:
        book(f"[cues.y]\non = ['died']\n{cue}")
    assert says in str(raised.value)


SHIELDED = """
[kinds.iron]
[fighters.smith]
attacks = ["jab"]
route = ["shield", "health"]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 100, vital = true }}
pools.shield = {{ max = 30 }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
[afflictions.rust]
kind = "iron"
damage = 1
every = 0.5
seconds = 1
[attacks.jab]
kind = "iron"
damage = 20
cooldown = 0.5
afflicts = ["rust"]
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing" }}
[arenas.forge]
floor = 0
bounds = {{ low = [-20, -1], high = [20, 9] }}
[cues.hurt]
max_at_once = 16
{cue}
[bouts.drill]
arena = "forge"
seconds = 1.8
seats.x = {{ fighter = "smith", at = [0, 0] }}
seats.y = {{ fighter = "smith", at = [3, 0] }}
orders = [{{ time = 0, seat = "x", hold = "jab" }}]
"""


@pytest.mark.parametrize(
    ("cue", "times"),
    [
        ('on = ["wounded"]\nattacks = ["jab"]', [0, 0.5, 1, 1.5]),
        ('on = ["wounded"]\nattacks = ["jab"]\npool = "health"', [0.5, 1, 1.5]),
        ('on = ["wounded"]\nattacks = ["jab"]\npool = "health"\nmin_points = 20', [1, 1.5]),
        ('on = ["wounded"]\nattacks = ["jab"]\npool = "shield"', [0, 0.5]),
        ('on = ["wounded"]\npool = "shield"\nbelow = 0.5', [0]),
        ('on = ["affliction_began"]\nattacks = ["rust"]', [0, 0.5, 1, 1.5]),
    ],
)
def test_a_cue_may_ask_for_one_pool_and_for_afflictions(cue: str, times: list[float]) -> None:
    told = only(events.Cue, ew.run(ew.Rulebook.parse(SHIELDED.format(cue=cue)), "drill").events)
    assert [each.time for each in told] == pytest.approx(times)


def test_a_pool_that_nobody_has_and_one_for_what_takes_no_points_are_refused() -> None:
    with pytest.raises(ew.RulebookError, match=r'no pool "helth" \(did you mean'):
        ew.Rulebook.parse(SHIELDED.format(cue='on = ["wounded"]\npool = "helth"'))
    with pytest.raises(ew.RulebookError, match="on died; has a meaning on wounded, healed alone"):
        ew.Rulebook.parse(SHIELDED.format(cue='on = ["died"]\npool = "health"'))
