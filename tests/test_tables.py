"""Bouts as tables: events, tracks and attacks, in pandas and as CSV, tell what the chronicle tells."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import pandas as pd
import pytest

import emberwound as ew
from conftest import emberwound, only
from emberwound.study import summarise

if TYPE_CHECKING:
    from pathlib import Path

    from emberwound import Chronicle, Rulebook


@pytest.fixture(scope="module")
def passage(saltglass: Rulebook) -> Chronicle:
    return ew.run(saltglass, "passage")


def test_a_row_an_event_with_types_that_know_what_is_missing(passage: Chronicle) -> None:
    table = passage.table()
    assert table["seq"].tolist() == [event.seq for event in passage.events]
    assert table["time"].tolist() == [event.time for event in passage.events]
    assert str(table["shot"].dtype) == "Int64" and str(table["amount"].dtype) == "Float64"
    assert str(table["cut_off"].dtype) == "boolean" and str(table["reason"].dtype) == "string"
    wounds = only(ew.events.Wounded, passage.events)
    rows = table[table["type"] == "wounded"]
    assert rows["amount"].tolist() == [wound.amount for wound in wounds]
    assert list(zip(rows["position_x"], rows["position_z"], strict=True)) == [wound.position for wound in wounds]
    assert rows["reaction"].isna().all() and "position_y" not in table and "ledger" not in table


def test_a_row_a_state_and_seat(passage: Chronicle) -> None:
    tracks = passage.tracks
    table = tracks.table()
    assert len(table) == tracks.alive.size
    for index, seat in enumerate(tracks.seats):
        rows = table[table["seat"] == seat]
        np.testing.assert_array_equal(rows["x"], tracks.positions[:, index, 0])
        np.testing.assert_array_equal(rows["pool_health"], tracks.pool(seat, "health"))
        assert rows["alive"].tolist() == tracks.alive[:, index].tolist()
    assert table["counter_pearls"].max() == max(row.counters["pearls"] for row in passage.end.board)


def test_what_attacks_came_to_adds_up_to_what_the_events_tell(passage: Chronicle, saltglass: Rulebook) -> None:
    for chronicle in (passage, *(ew.run(saltglass, name) for name in ("vent", "pans", "yard"))):
        totals = {each.attack: each for each in summarise(chronicle).attacks}
        wounds, guards = only(ew.events.Wounded, chronicle.events), only(ew.events.Guarded, chronicle.events)
        taken = sum(wound.amount - wound.ledger.overkill for wound in wounds)
        assert sum(each.damage for each in totals.values()) == pytest.approx(taken)
        assert sum(each.guarded for each in totals.values()) == len(guards)
        assert sum(each.kills for each in totals.values()) == len(only(ew.events.Died, chronicle.events))
        for begun in only(ew.events.AttackBegan, chronicle.events):
            assert totals[begun.attack].used >= 1
        swings = [swing for swing in only(ew.events.SwingEnded, chronicle.events) if not swing.touched]
        shots = [shot for shot in only(ew.events.ShotEnded, chronicle.events) if shot.reason is not ew.Reason.HIT]
        assert sum(each.missed for each in totals.values()) <= len(swings) + len(shots)
    assert any(each.guarded for each in summarise(passage).attacks)


def test_a_guarded_hit_is_no_hit_and_a_pierced_one_no_miss() -> None:
    (example,) = [each for each in _shelf() if each.name == "guard-reactions"]
    rules = ew.Rulebook.parse(example.files["book.toml"].decode())
    (jab,) = summarise(ew.run(rules, "jabs")).attacks
    assert (jab.used, jab.hit, jab.guarded, jab.damage) == (2, 0, 2, 4)
    (example,) = [each for each in _shelf() if each.name == "bounce-and-pierce"]
    chronicle = ew.run(ew.Rulebook.parse(example.files["book.toml"].decode()), "glowing")
    bead, spit = summarise(chronicle).attacks
    assert (spit.used, spit.hit, spit.missed, spit.kills) == (1, 3, 0, 3)
    assert (bead.used, bead.hit, bead.missed) == (1, 1, 0)


def _shelf() -> list[ew.cli.shelf.Example]:
    from emberwound.cli.shelf import examples

    return examples()


def test_the_command_writes_them_as_csv(passage: Chronicle, saltglass_path: Path, tmp_path: Path) -> None:
    done = emberwound("tables", saltglass_path, "passage", "--out", "t", folder=tmp_path)
    assert done.returncode == 0 and done.stdout.count("written: ") == 3
    events = pd.read_csv(tmp_path / "t" / "passage-events.csv")
    assert events["type"].tolist() == passage.table()["type"].tolist()
    assert len(pd.read_csv(tmp_path / "t" / "passage-tracks.csv")) == passage.tracks.alive.size
    attacks = pd.read_csv(tmp_path / "t" / "passage-attacks.csv").set_index("attack")
    assert attacks.loc["sweep", "kills"] == next(
        each.kills for each in summarise(passage).attacks if each.attack == "sweep"
    )
