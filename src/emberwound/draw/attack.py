"""The figure of an attack: its time line, and its hitboxes round the fighter at chosen ticks."""

from __future__ import annotations

from functools import cached_property
from math import cos, sin
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from matplotlib.collections import PolyCollection

from emberwound.draw.palette import EMBER, INK, PAPER, SOFT_INK, seat_look
from emberwound.draw.projections import FROM_SIDE, FROM_TOP, outline
from emberwound.draw.stage import draw_fighter, heading_arrow, lay_strip, strip_height
from emberwound.draw.style import figure, headline
from emberwound.draw.timeline import bars_against, bars_of, draw_timeline
from emberwound.plan import compile_plan
from emberwound.plan.stances import Stance, hidden_standing, hitbox_solid, hitbox_tilt, muzzle_place, to_space
from emberwound.vocabulary.errors import BoutError, unknown_name

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure
    from numpy.typing import NDArray

    from emberwound.face import Rulebook
    from emberwound.plan import Plan
    from emberwound.plan.attack_plans import AttackPlan, WindowPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.study.timing import AttackTiming

    Outline = NDArray[np.float64]

MOST_MOMENTS = 6
AHEAD = (1.0, 0.0)
FINE = 8
"""Moments of each tick at which the reach of a sweep is looked for."""

GHOSTS = 4
"""Of so many of these moments one is drawn, as an outline."""

BODY = seat_look(1)[0]


class Moment(NamedTuple):
    """An attack at one time of it, in ticks: the hitboxes that are on, by name, as outlines."""

    tick: float
    outlines: dict[str, Outline]


class StagedAttack:
    """An attack of a fighter as it goes, begun on tick 0 where the fighter stands at 0."""

    def __init__(self, plan: Plan, fighter: FighterPlan, attack: AttackPlan) -> None:
        self.plan = plan
        self.fighter = fighter
        self.attack = attack
        level = plan.space.has_heights and not any(abs(tilt) > 0.5 for tilt in self._tilts())
        self.projection = FROM_SIDE if level else FROM_TOP

    def _tilts(self) -> list[float]:
        windows = self.attack.strike.windows if self.attack.strike else ()
        return [hitbox_tilt(self.plan, each.entry) for each in windows]

    def stance(self, tick: float) -> Stance:
        """Where and how the fighter stands; a lunge that lasts carries it, a kick is not followed."""
        attack, parts = self.attack, self.attack.denominator
        pose = attack.pose + min(tick, attack.pose_last) if attack.pose_last else self.fighter.rest_pose
        hidden = hidden_standing(self.plan, self.fighter)
        place = np.zeros(3)
        at = {stage.action: stage.at / parts for stage in attack.stages if stage.action in ("lunge", "coast")}
        if "coast" in at:
            gone = min(max(tick - at["lunge"], 0.0), at["coast"] - at["lunge"]) / self.plan.tick_rate
            place = to_space(attack.lunge, (0, 0, 0), AHEAD) * gone
        for stage in attack.stages:
            if stage.action in ("hide", "show") and -(-stage.at // parts) <= tick:
                bit = 1 << attack.hides[stage.index]
                hidden = hidden | bit if stage.action == "hide" else hidden & ~bit
        return Stance(place.tolist(), AHEAD, pose, hidden)

    def is_invulnerable(self, tick: float) -> bool:
        """Whether nothing can hurt the fighter at a time."""
        said = [stage for stage in self.attack.stages if stage.action in ("shield", "bare")]
        past = [stage for stage in said if -(-stage.at // self.attack.denominator) <= tick]
        return bool(past) and past[-1].action == "shield"

    def moment(self, tick: float) -> Moment:
        """The hitboxes that are on at a time."""
        strike = self.attack.strike
        if strike is None:
            return Moment(tick, {})
        parts = self.attack.denominator
        on = [window for window in strike.windows if window.opens <= tick * parts < window.closes]
        return Moment(tick, {self._name(each): self._outline(each, tick) for each in on})

    def within(self, tick: int) -> Moment:
        """The hitboxes that are on within a tick, where they are when it, or else their time, begins."""
        strike, parts = self.attack.strike, self.attack.denominator
        found: dict[str, Outline] = {}
        for window in strike.windows if strike else ():
            if window.opens < (tick + 1) * parts and window.closes > tick * parts:
                found.setdefault(self._name(window), self._outline(window, max(tick, window.opens / parts)))
        return Moment(tick, found)

    def _name(self, window: WindowPlan) -> str:
        return self.attack.strike.hitboxes[window.hitbox].name  # type: ignore[union-attr]

    def _outline(self, window: WindowPlan, tick: float) -> Outline:
        parts = self.attack.denominator
        begins, ends = window.opens / parts, window.closes / parts
        share = min(max((tick - begins) / (ends - begins), 0.0), 1.0)
        return outline(hitbox_solid(self.plan, window.entry, self.stance(tick), share), self.projection)

    @cached_property
    def sweep(self) -> list[Moment]:
        """The hitboxes at many moments of the time that any is on, the turning points of joints among them."""
        windows = self.attack.strike.windows if self.attack.strike else ()
        turns = [window.opens / self.attack.denominator for window in windows]
        fine = [tick + part / FINE for tick in self.live_ticks() for part in range(FINE)]
        return [self.moment(tick) for tick in sorted({*fine, *turns})]

    def live_ticks(self) -> list[int]:
        """The ticks on which a hitbox is on."""
        return [tick for tick in range(self.attack.whole_ticks + 1) if self.within(tick).outlines]

    @cached_property
    def reaches(self) -> dict[str, float]:
        """How far ahead of where the fighter began each hitbox comes."""
        found: dict[str, float] = {}
        for moment in self.sweep:
            for name, edge in moment.outlines.items():
                found[name] = max(found.get(name, 0.0), float(edge[:, 0].max()))
        return found


def draw_attack(
    rules: Rulebook,
    attack: str,
    *,
    fighter: str | None = None,
    arena: str | None = None,
    ticks: Sequence[int] | None = None,
    against: str | None = None,
) -> Figure:
    """An attack of a book: its time line above, and below it at chosen ticks, as a fighter does it in an arena.

    Without a name the first fighter that has the attack and the first arena are taken, and ticks about the hitboxes or
    releases. `against` adds what that fighter does when it lands, and who can act first then. Raises RulebookError for
    an unknown attack or victim, BoutError for an unknown fighter or arena, for a fighter without the attack, and for
    ticks outside it.
    """
    timing = rules.timing(attack)
    staged = staged_attack(rules, attack, fighter, arena)
    shown = list(ticks) if ticks else _notable_ticks(staged)
    if len(shown) > MOST_MOMENTS or not all(0 <= tick <= timing.whole_ticks for tick in shown):
        rule = f"give at most {MOST_MOMENTS} ticks from 0 to {timing.whole_ticks}, where {attack} is over"
        raise BoutError(f"{rule}; got {', '.join(map(str, shown))}")
    strikes = staged.attack.strike is not None
    suffered = bars_against(rules.advantage(attack, against), strikes=strikes) if against else []
    lanes = len({bar.lane for bar in [*bars_of(timing), *suffered]})
    heights = (1.6 + 0.42 * lanes, strip_height(*_frame(staged), len(shown)))
    sheet = figure(height=sum(heights))
    parts: Any = sheet.subfigures(2, 1, height_ratios=heights)
    for part in parts:
        part.set_facecolor(PAPER)
    draw_timeline(timing, parts[0].subplots(), suffered)
    draw_moments(staged, parts[1].subplots(), shown, rules)
    headline(sheet, f"{staged.fighter.name}'s {attack}{_gist(staged, timing, rules.book.settings.units)}")
    return sheet


def _gist(staged: StagedAttack, timing: AttackTiming, units: str) -> str:
    """What an attack comes to, in one line."""
    said = []
    live = staged.live_ticks()
    if live:
        reach = ", ".join(f"{name} reaches {far:.2f} {units}" for name, far in staged.reaches.items())
        said.append(f"hitboxes on in ticks {live[0]} to {live[-1]}; {reach}")
    releases = timing.of("release")
    if releases:
        said.append(f"releases on tick {', '.join(str(each.first_tick) for each in releases)}")
    said += [f"invulnerable in ticks {each.first_tick} to {each.last_tick}" for each in timing.of("invulnerable")]
    carried = staged.stance(staged.attack.whole_ticks).position[0]
    if carried:
        said.append(f"carries its owner {carried:.2f} {units} ahead")
    return f": {'; '.join(said)}" if said else ""


def staged_attack(rules: Rulebook, attack: str, fighter: str | None, arena: str | None) -> StagedAttack:
    """An attack as a fighter does it in an arena; the first of each that there is when not named."""
    book = rules.book
    owners = [name for name, each in book.fighters.items() if attack in each.attacks]
    where = next(iter(book.arenas), None) if arena is None else arena
    if where is None or where not in book.arenas:
        raise BoutError(unknown_name("arena", where or "", book.arenas))
    who = next(iter(owners), None) if fighter is None else fighter
    if who is None or who not in owners:
        raise BoutError(unknown_name(f"fighter with the attack {attack}:", who or "", owners))
    plan = compile_plan(rules, where, book.settings.tick_rate)
    performer = plan.fighter(who)
    slot = performer.slot(attack) if performer else None
    if performer is None or slot is None:
        raise BoutError(unknown_name("fighter", who, owners))
    return StagedAttack(plan, performer, performer.attacks[slot])


def _notable_ticks(staged: StagedAttack) -> list[int]:
    """Ticks worth a look: the start, about the hitboxes or the releases, and the end."""
    live, attack = staged.live_ticks(), staged.attack
    if live:
        middle = live[len(live) // 2]
        return list(dict.fromkeys([0, max(live[0] - 1, 0), live[0], middle, live[-1]]))
    notable = ("release",) if attack.launch else ("lunge", "shield", "bare", "hide", "show")
    turns = {-(-stage.at // attack.denominator) for stage in attack.stages if stage.action in notable}
    return sorted({0, *sorted(turns - {0})[: MOST_MOMENTS - 2], attack.whole_ticks})


def draw_moments(staged: StagedAttack, axes: Axes, ticks: Sequence[int], rules: Rulebook) -> None:
    """The fighter at each tick with the hitboxes that are on, what they sweep, and how far ahead they come."""
    projection, units = staged.projection, rules.book.settings.units
    low, high = _frame(staged)
    titles = [_state(staged, tick) for tick in ticks]
    shifts = lay_strip(axes, [low[0]] * len(ticks), high[0] - low[0], (low[1], high[1]), titles)
    for tick, shift in zip(ticks, shifts, strict=True):
        _draw_moment(staged, axes, tick, shift)
    if projection is FROM_SIDE:
        axes.axhline(0.0, color=SOFT_INK, linewidth=1.2, zorder=1)
    axes.set_xlabel(f"ahead ({units})", color=INK)
    axes.set_ylabel(f"{'up' if projection is FROM_SIDE else 'left'} ({units})", color=INK)


def _state(staged: StagedAttack, tick: int) -> str:
    """What is written over a moment: its tick, the hitboxes that are on, and whether it cannot be hurt."""
    now = staged.within(tick).outlines
    state = [f"{', '.join(now)} on"] if now else []
    state += ["invulnerable"] if staged.is_invulnerable(tick) else []
    return f"tick {tick}{': ' if state else ''}{', '.join(state)}"


def _draw_moment(staged: StagedAttack, axes: Axes, tick: int, shift: float) -> None:
    along = np.array([shift, 0.0])
    shown = [edge for moment in staged.sweep[::GHOSTS] for edge in moment.outlines.values()]
    ghosts = list({edge.round(6).tobytes(): edge + along for edge in shown}.values())
    axes.add_collection(
        PolyCollection(ghosts, facecolor="none", edgecolor=EMBER, linewidth=0.6, linestyle=":", alpha=0.6, zorder=1),
        autolim=False,
    )
    look = {"alpha": 0.05, "linewidth": 0.7} if staged.is_invulnerable(tick) else {}
    stance = staged.stance(tick)
    x, *others = stance.position
    stance = stance._replace(position=(x + shift, *others))
    draw_fighter(staged.plan, axes, staged.projection, staged.fighter.id, stance, BODY, **look)
    now = [edge + along for edge in staged.within(tick).outlines.values()]
    axes.add_collection(
        PolyCollection(now, facecolor=EMBER, edgecolor=INK, alpha=0.75, linewidth=1.2, zorder=4), autolim=False
    )
    for name, far in staged.reaches.items():
        axes.plot([far + shift] * 2, axes.get_ylim(), color=EMBER, linewidth=0.9, linestyle=(0, (4, 3)), zorder=2)
        axes.annotate(f"{name} {far:.2f}", (far + shift, axes.get_ylim()[1]), (-3, -3), rotation=90, ha="right",
                      textcoords="offset points", va="top", color=EMBER, fontsize=8)  # fmt: skip
    _draw_muzzle(staged, axes, tick, stance)


def _draw_muzzle(staged: StagedAttack, axes: Axes, tick: int, stance: Stance) -> None:
    """Where what is released on a tick leaves, and which way unless it is aimed."""
    attack, projection = staged.attack, staged.projection
    released = any(stage.action == "release" and -(-stage.at // attack.denominator) == tick for stage in attack.stages)
    if attack.launch is None or not released:
        return
    muzzle = muzzle_place(staged.plan, attack.launch, stance)
    way = 0.4 * staged.fighter.height * np.array([cos(attack.launch.lift), 0.0, sin(attack.launch.lift)])
    axes.plot(*projection.spot(muzzle), marker="D", color=EMBER, markersize=6, zorder=6)
    heading_arrow(axes, projection, muzzle, way, EMBER)


def _frame(staged: StagedAttack) -> tuple[list[float], list[float]]:
    """The low and the high corner of one frame for all moments: the fighter where it begins and ends, and all swept."""
    size, last = staged.fighter.height, staged.stance(staged.attack.whole_ticks).position
    swept = [edge for moment in staged.sweep for edge in moment.outlines.values()]
    points = [np.array([[-0.5 * size, -0.08 * size], [0.7 * size, 1.08 * size]])]
    points.append(points[0] + staged.projection.flat(last))
    if staged.projection is FROM_TOP:
        points = [each * (1.0, 0.6) for each in points] + [np.array([[0.0, -0.6 * size]])]
    low = np.vstack([*points, *swept]).min(axis=0) - 0.06 * size
    high = np.vstack([*points, *swept]).max(axis=0) + 0.06 * size
    return low.tolist(), high.tolist()
