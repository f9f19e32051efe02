"""What a book says that does nothing: no mistake, but seldom meant."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.rulebook.models.attacks import Attack
from emberwound.vocabulary.problems import Problem

if TYPE_CHECKING:
    from emberwound.rulebook.models import Book

CARRIERS = ("shot", "ray", "strike", "throw", "blast_at")
FOR_ITS_OWNER = ("lunge", "invulnerable", "hurtboxes_off", "poses")


def warnings_of(book: Book, file: str) -> list[Problem]:
    """What does nothing in a book, attack by attack."""
    found = []
    for name, attack in book.attacks.items():
        key = f"attacks.{name}"
        if carries_nothing(attack):
            seen = "it does nothing: no shot, ray, strike or blast, and nothing for its owner"
            found.append(
                Problem(
                    file,
                    key,
                    seen,
                    "give it one of them, or a lunge, invulnerable or hurtboxes_off",
                    finding="carries-nothing",
                )
            )
        elif _is_harmless(attack):
            seen = "it hits with nothing: no damage, healing, push, affliction or blast"
            found.append(
                Problem(
                    file,
                    f"{key}.{'heal' if attack.hits_allies else 'damage'}",
                    seen,
                    "give it damage and a kind, or another of them",
                    finding="carries-nothing",
                )
            )
        if attack.releases != Attack.model_fields["releases"].get_default(call_default_factory=True) and not any(
            getattr(attack, each) for each in ("shot", "ray", "throw", "blast_at")
        ):
            seen = "releases without a shot, a ray or a blast"
            found.append(
                Problem(
                    file,
                    f"{key}.releases",
                    seen,
                    "give it one of them, or leave the releases out",
                    finding="carries-nothing",
                )
            )
    return found + _throws_nobody(book, file)


def _throws_nobody(book: Book, file: str) -> list[Problem]:
    """Fighters that throw, and have no attack that holds anybody."""
    found = []
    for name, fighter in book.fighters.items():
        attacks = [(each, book.attacks[each]) for each in fighter.all_attacks]
        throws = [each for each, attack in attacks if attack.throw]
        if throws and not any(attack.grab for _, attack in attacks):
            seen = f"{throws[0]} throws, but no attack of {name} holds anybody"
            found.append(
                Problem(
                    file, f"fighters.{name}.attacks", seen, "give it an attack with a grab", finding="carries-nothing"
                )
            )
    return found


def carries_nothing(attack: Attack) -> bool:
    """Whether an attack neither releases nor strikes, and does nothing for its owner."""
    return not any(getattr(attack, each) for each in (*CARRIERS, *FOR_ITS_OWNER))


def _is_harmless(attack: Attack) -> bool:
    """Whether an attack does nothing to whom it hits."""
    if not any(getattr(attack, each) for each in CARRIERS):
        return False
    boxes = attack.strike.hitboxes.values() if attack.strike else ()
    does = (attack.damage, attack.heal, attack.push, attack.afflicts, attack.blast, attack.hit_stop.amount)
    strikes = attack.grab or (attack.strike and attack.strike.reflects)
    own = any(box.damage or box.push or box.afflicts or (box.hit_stop and box.hit_stop.amount) for box in boxes)
    return not (any(does) or strikes or own)
