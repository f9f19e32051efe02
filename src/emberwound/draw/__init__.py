"""Figures and terminal views. Each takes a result and gives a drawing; nothing here simulates.

Each `draw_...` gives a Matplotlib figure; `write_figure` writes one to a file, and `replay_page` gives an HTML page.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound._lazy import loader

if TYPE_CHECKING:
    from emberwound.draw.arena import draw_arena
    from emberwound.draw.attack import draw_attack
    from emberwound.draw.bars import draw_bars
    from emberwound.draw.hits import draw_knockback, draw_reaction
    from emberwound.draw.inquest import draw_inquest
    from emberwound.draw.lives import draw_lives
    from emberwound.draw.ragdoll import draw_ragdoll
    from emberwound.draw.replay import replay_page
    from emberwound.draw.shots import draw_shot_strip, draw_shots
    from emberwound.draw.story import draw_story
    from emberwound.draw.style import write_figure

__all__ = [
    "draw_arena",
    "draw_attack",
    "draw_bars",
    "draw_inquest",
    "draw_knockback",
    "draw_lives",
    "draw_ragdoll",
    "draw_reaction",
    "draw_shot_strip",
    "draw_shots",
    "draw_story",
    "replay_page",
    "write_figure",
]

_HOMES = {
    "draw_arena": "emberwound.draw.arena",
    "draw_attack": "emberwound.draw.attack",
    "draw_bars": "emberwound.draw.bars",
    "draw_inquest": "emberwound.draw.inquest",
    "draw_knockback": "emberwound.draw.hits",
    "draw_lives": "emberwound.draw.lives",
    "draw_ragdoll": "emberwound.draw.ragdoll",
    "draw_reaction": "emberwound.draw.hits",
    **dict.fromkeys(("draw_shot_strip", "draw_shots"), "emberwound.draw.shots"),
    "draw_story": "emberwound.draw.story",
    "replay_page": "emberwound.draw.replay",
    "write_figure": "emberwound.draw.style",
}

if not TYPE_CHECKING:  # a checker that saw it would let every misspelt name pass
    __getattr__ = loader(__name__, _HOMES)


def __dir__() -> list[str]:
    return list(__all__)
