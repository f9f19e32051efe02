"""A book in any unit of length: what it leaves out follows its bodies, and a bout is the same but for its scale."""

from __future__ import annotations

import numpy as np
import pytest

import emberwound as ew
from conftest import run
from emberwound.geometry.layout import ModelColumn
from emberwound.plan import compile_plan

BOOK = """
[kinds.iron]
[bars.life]
pool = "health"
[bars.breath]
pool = "breath"
[fighters.hewer]
attacks = ["shove"]
bars = ["life", "breath"]
body = { radius = <0.3>, height = <1.8> }
pools.health = { max = 90, vital = true }
pools.breath = { max = 90 }
hurtboxes.trunk = { from = [0, <0.4>], to = [0, <1.2>], radius = <0.3> }
[attacks.shove]
kind = "iron"
damage = 10
push = { speed = <9>, lift_deg = LIFT }
strike.hitboxes.palm = { from = [<0.6>, <1>], radius = <0.3> }
active = "3f"
[arenas.yard]
floor = 0
GRAVITY
bounds = { low = [-<40>, -<1>], high = [<40>, <20>] }
"""


def text(scale: float, lift: float, gravity: str | None = None) -> str:
    """The book in lengths of which so many make a metre."""
    book = BOOK.replace("LIFT", str(lift))
    book = book.replace("GRAVITY", f"gravity = {9.81 * scale:g}" if gravity is None else gravity)
    for name in ("0.3", "0.4", "0.6", "1", "1.2", "1.8", "9", "20", "40"):
        book = book.replace(f"<{name}>", f"{float(name) * scale:g}")
    return book


@pytest.mark.parametrize("scale", [100, 0.01])
@pytest.mark.parametrize("lift", [0, 40])
def test_what_a_book_leaves_out_goes_with_its_lengths(scale: float, lift: float) -> None:
    def told(size: float) -> tuple[np.ndarray, list[tuple[float, ...]], float]:
        bout = ew.Bout(ew.Rulebook.parse(text(size, lift)), arena="yard")
        bout.enter("hewer", at=(0, 0)).order(press="shove")
        bout.enter("hewer", at=(0.9 * size, 0), facing="left")
        run(bout, 3)
        bars = [(*bar.rect, bar.outline) for bar in bout.view().bars]
        slows = float(compile_plan(bout.rules, "yard", 60).tables.models[ModelColumn.SLIDE_DECELERATION, 0])
        return bout.view().positions / size, [tuple(each / size for each in bar) for bar in bars], slows / size

    (stood, bars, slows), (others, other_bars, other_slows) = told(1), told(scale)
    assert stood[1, 0] > 2, "the shove carries"
    np.testing.assert_allclose(others, stood, rtol=1e-9, atol=1e-9)
    np.testing.assert_allclose(other_bars, bars, rtol=1e-9)
    assert (slows, other_slows) == pytest.approx((12, 12))


def test_gravity_in_metres_is_refused_where_no_body_has_the_height_of_one() -> None:
    said = r"arenas.yard.gravity: missing; 9.81 is for metres, and hewer is 180 tall"
    with pytest.raises(ew.RulebookError, match=said):
        ew.Rulebook.parse(text(100, 0, ""))
    assert ew.Rulebook.parse(text(1, 0, "")).book.arenas["yard"].gravity == 9.81
