"""The page that a bout can be scrubbed in: what it holds, and that it works in a real browser."""

from __future__ import annotations

import os
import shutil
from typing import TYPE_CHECKING

import numpy as np
import pytest

import emberwound as ew
from conftest import emberwound, only, steps
from emberwound import events
from emberwound.draw import replay_page
from emberwound.draw.replay import replay_data

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

    from selenium.webdriver import Chrome

BROWSER, DRIVER = shutil.which("chromium"), shutil.which("chromedriver")
FLAGS = (
    "headless",
    "no-sandbox",
    "disable-gpu",
    "disable-quic",
    "no-first-run",
    "disable-background-networking",
    "disable-component-update",
    "disable-sync",
)


def test_no_name_opens_a_tag_in_the_page(saltglass: ew.Rulebook) -> None:
    bout = ew.Bout(saltglass, arena="causeway")
    recorder = ew.Recorder(bout)
    bout.enter("wader", at="west", seat="<!--<script>")
    steps(bout, 3)
    page = replay_page(recorder.chronicle())
    assert "<!--<script>" not in page
    assert "\\u003c!--\\u003cscript>" in page


def test_the_page_holds_every_place_shot_and_event_of_the_bout(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "passage")
    data = replay_data(chronicle)
    tracks = chronicle.tracks
    assert data["states"] == len(tracks.ticks) and data["rate"] == 60
    for number, seat in enumerate(data["seats"]):
        assert seat["name"] == tracks.seats[number]
        there = np.full((data["states"], 2), np.nan)
        for stay in seat["stays"]:
            places = np.reshape(stay["places"], (-1, 2))
            there[stay["first"] : stay["first"] + len(places)] = places
        np.testing.assert_allclose(there, tracks.positions[:, number], atol=6e-4)
    assert len(data["shots"]) == len(only(events.Released, chronicle.events))
    assert [each["hit"] for each in data["shots"]].count(True) == 8
    wounds = only(events.Wounded, chronicle.events)
    ledgers = [each["ledger"] for each in data["events"] if each["kind"] == "wounded"]
    assert [[step[0] for step in ledger] for ledger in ledgers] == [[s.rule for s in w.ledger.steps] for w in wounds]
    swings = only(events.SwingEnded, chronicle.events)
    assert len(data["hits"]) > 8 * len([swing for swing in swings if swing.by == "amber"])
    assert {bar["seat"] for bar in data["bars"]} == set(tracks.seats)
    off = data["off"][1]
    assert [state for state, _ in off[:4]] == [1, 73, 145, 253], "the vent breathes: on at 1.2 s for 1.2 s"
    assert data["lives"]["amber"][-1][1] == 3 and data["scores"]["amber"][-1][1] == 16.0
    other = replay_data(ew.run(saltglass.edit({"settings.board": ["falls"]}), "passage"))
    assert other["counter"] == "falls" and other["scores"]["amber"][-1][1] == 2.0
    swept = {event.tick for event in only(events.BoutRestarted, chronicle.events)}
    fallen = [(event.seat or "", event.tick + 1) for event in only(events.Died, chronicle.events)
              if event.tick not in swept]  # fmt: skip
    assert sorted((each["seat"], each["first"]) for each in data["corpses"]) == sorted(fallen)
    ragdoll = next(each for each in data["corpses"] if "links" in each)
    assert len(ragdoll["places"]) > 20 and ragdoll["places"][-1][0] < ragdoll["last"], "it falls, and then lies still"


@pytest.fixture(scope="module")
def browser() -> Iterator[Chrome]:
    if BROWSER is None or DRIVER is None:
        if os.environ.get("EMBERWOUND_NEEDS_BROWSER"):
            pytest.fail("a browser was asked for, but there is no chromium with a chromedriver")
        pytest.skip("there is no chromium with a chromedriver on this machine: the replay is not tried in a browser")
    from selenium.webdriver import Chrome, ChromeOptions
    from selenium.webdriver.chrome.service import Service

    options = ChromeOptions()
    options.binary_location = BROWSER
    for flag in FLAGS:
        options.add_argument(f"--{flag}")
    options.add_argument("--window-size=1280,800")
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = Chrome(options=options, service=Service(DRIVER))
    yield driver
    driver.quit()


@pytest.fixture(scope="module")
def page(tmp_path_factory: pytest.TempPathFactory, saltglass_path: Path) -> Path:
    folder = tmp_path_factory.mktemp("replay")
    done = emberwound("replay", saltglass_path, "passage", "--out", "page.html", folder=folder)
    assert (done.returncode, done.stderr, done.stdout) == (0, "", "written: page.html\n")
    file = folder / "page.html"
    assert 50_000 < file.stat().st_size < 3_000_000
    text = file.read_text(encoding="utf-8")
    assert "http://" not in text and "https://" not in text, "it needs no network"
    return file


def test_it_loads_steps_jumps_and_shows_a_ledger(browser: Chrome, page: Path) -> None:
    def state() -> int:
        return int(browser.execute_script("return document.body.dataset.state"))

    def click(selector: str) -> None:
        browser.find_element("css selector", selector).click()

    def painted() -> str:
        return str(browser.execute_script("return document.getElementById('stage').toDataURL()"))

    browser.get(page.as_uri())
    spent = browser.execute_script("return performance.now()")
    assert spent < 5000 and browser.title == "The Saltglass Causeway: over the whole causeway"
    assert state() == 1 and len(painted()) > 5000
    click("#on")
    assert state() == 2
    click("#back")
    body = browser.find_element("css selector", "body")
    body.send_keys("\ue014" * 3)
    assert state() == 4, "three ticks by the arrow key"
    body.send_keys("n")
    assert state() == 48, "the next event is the pearl"
    assert "amber takes pearl" in browser.find_element("css selector", "[aria-current=true]").text
    wounds = browser.find_elements("css selector", "#events .ledger")
    browser.execute_script("arguments[0].scrollIntoView()", wounds[0])
    wounds[0].click()
    assert state() == 133
    ledger = browser.find_element("css selector", "#ledger").text
    assert "hurtbox 6 9 head × 1.5" in ledger and "pool health 9 0" in ledger
    before = painted()
    for name in ("hurtboxes", "hitboxes", "bars", "names"):
        click(f"#{name}")
        assert painted() != before, name
        before = painted()
    seen = browser.find_element("css selector", "#seats").text
    assert "amber lamplighter lamps 2 3 alive" in seen
    click("#play")
    browser.implicitly_wait(1)
    assert browser.find_element("css selector", "#play[aria-pressed=true]")
    click("#play")
    assert state() > 133
    assert [entry for entry in browser.get_log("browser") if entry["level"] == "SEVERE"] == []  # type: ignore[no-untyped-call]


def test_it_looks_close_at_a_seat_also_when_it_lies_dead_or_waits(browser: Chrome, page: Path) -> None:
    browser.get(page.as_uri())
    for state, lies in ((100, "places"), (1492, "corpse"), (1650, "gone")):
        browser.execute_script(f"document.getElementById('close').value = 'reed'; go({state})")
        middle, seat, corpses = browser.execute_script(
            "return [size.left + stage.width / scale / 2, bout.seats.find((one) => one.name === 'reed'), bout.corpses]"
        )
        stay = next(each for each in reversed(seat["stays"]) if each["first"] <= state)
        fallen = [each for each in corpses if each["seat"] == "reed" and each["first"] <= state <= each["last"]]
        assert (lies == "corpse") == bool(fallen)
        if fallen:
            spot = next(flat for since, flat in reversed(fallen[0]["places"]) if since <= state)[0]
        else:
            spot = stay["places"][: 2 * (state - stay["first"] + 1)][-2]
        assert middle == pytest.approx(spot)


def test_it_is_legible_on_a_narrow_window(browser: Chrome, page: Path) -> None:
    browser.set_window_size(520, 900)
    browser.get(page.as_uri())
    wide = browser.execute_script("return [document.documentElement.scrollWidth, window.innerWidth]")
    assert wide[0] <= wide[1], "nothing is wider than the window"
    browser.set_window_size(1280, 800)


def test_what_is_no_page_is_refused(tmp_path: Path, saltglass_path: Path) -> None:
    done = emberwound("replay", saltglass_path, "vent", "--out", "page.png", folder=tmp_path)
    assert (done.returncode, done.stdout) == (2, "") and "a page is written as .html; got '.png'" in done.stderr
