"""What a bout is held by: who respawns beside a foe, and whose lives never end."""

from __future__ import annotations

from math import dist
from typing import TYPE_CHECKING

from emberwound.study.check.survey import seat_key

if TYPE_CHECKING:
    from emberwound.rulebook.models import Arena, BoutTable
    from emberwound.study.check.survey import Survey


def check_bouts(survey: Survey) -> None:
    """Every bout of the book."""
    for name, bout in survey.book.bouts.items():
        _endless_lives(survey, name, bout, survey.arena_of(name))
        _spawn_in_reach(survey, name, bout)


def _endless_lives(survey: Survey, name: str, bout: BoutTable, arena: Arena) -> None:
    if arena.on_elimination == "go_on":
        return
    decisive = {
        each: seat
        for each, seat in bout.seats.items()
        if arena.elimination_team is None or seat.team == arena.elimination_team
    }
    endless = [each for each, seat in decisive.items() if seat.lives == "endless"]
    if endless and len(endless) == len(decisive):
        what = f"on_elimination is {arena.on_elimination}, and {', '.join(endless)} have endless lives"
        survey.add("endless-lives", f"{seat_key(name, endless[0])}.lives", what, "give one of them a number of lives")


def _spawn_in_reach(survey: Survey, name: str, bout: BoutTable) -> None:
    """A seat that respawns without protection within reach of a foe that stays there and strikes."""
    arena = survey.arena_of(name)
    for each, seat in bout.seats.items():
        fighter = survey.book.fighters[seat.fighter]
        if seat.lives == 1 or survey.seconds(fighter.respawn_protection) > 0.0:
            continue
        respawns = {f"entry of {each}": survey.place_of(name, seat)}
        if arena.respawn_entry is not None:
            respawns = {f"entry {arena.respawn_entry}": arena.entries[arena.respawn_entry].at}
        respawns |= {f"checkpoint {point}": table.respawn_at for point, table in arena.checkpoints.items()}
        for use in survey.uses:
            foe = bout.seats.get(use.seat)
            strike = survey.book.attacks[use.attack].strike
            if (
                use.bout != name
                or use.seat == each
                or foe is None
                or strike is None
                or not survey.stays(name, use.seat)
            ):
                continue
            if seat.team is not None and seat.team == foe.team:
                continue
            reach = _reach_of(survey, use.attack) + fighter.body.radius
            there = survey.place_of(name, foe)
            spot = next((spot for spot, place in respawns.items() if dist(place, there) < reach), None)
            if spot is not None:
                far = dist(respawns[spot], there)
                what = (
                    f"{each} respawns at the {spot}, {far:.3g} from {use.seat}, whose {use.attack} reaches {reach:.3g}"
                )
                key = f"fighters.{seat.fighter}.respawn_protection"
                survey.add("spawn-in-reach", key, what, "a respawn_protection of a second, or another place")
                break


def _reach_of(survey: Survey, attack: str) -> float:
    """How far ahead a strike reaches from where its owner stands, at the most."""
    strike = survey.book.attacks[attack].strike
    far = 0.0
    for _, owner in survey.owners(attack):
        for box in strike.hitboxes.values() if strike else ():
            places = [
                owner.joints[end] if isinstance(end, str) else end for end in (box.from_, box.to) if end is not None
            ]
            ahead = max(abs(place[0]) for place in places)
            size = (
                (box.radius or 0.0) + (box.swing.reach if box.swing else 0.0) + (box.size[0] / 2 if box.size else 0.0)
            )
            far = max(far, ahead + size)
    return far
