"""Views: the moment between two ticks for whoever draws, records or asks."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound._lazy import loader

if TYPE_CHECKING:
    from emberwound.bout.views.bars import BarView
    from emberwound.bout.views.body import BodyView
    from emberwound.bout.views.camera import Camera, Follower
    from emberwound.bout.views.cues import CueView
    from emberwound.bout.views.frame import View
    from emberwound.bout.views.parts import (
        ActionView,
        AfflictionView,
        AreaView,
        RagdollView,
        ReactionView,
        ShotView,
        SolidView,
    )
    from emberwound.combat.pools import eased, half_life_from_share

__all__ = [
    "ActionView",
    "AfflictionView",
    "AreaView",
    "BarView",
    "BodyView",
    "Camera",
    "CueView",
    "Follower",
    "RagdollView",
    "ReactionView",
    "ShotView",
    "SolidView",
    "View",
    "eased",
    "half_life_from_share",
]

_HOMES = {
    "AreaView": "emberwound.bout.views.parts",
    "BarView": "emberwound.bout.views.bars",
    "BodyView": "emberwound.bout.views.body",
    **dict.fromkeys(("ActionView", "AfflictionView", "RagdollView", "ReactionView"), "emberwound.bout.views.parts"),
    **dict.fromkeys(("Camera", "Follower"), "emberwound.bout.views.camera"),
    "CueView": "emberwound.bout.views.cues",
    "View": "emberwound.bout.views.frame",
    "ShotView": "emberwound.bout.views.parts",
    "SolidView": "emberwound.bout.views.parts",
    **dict.fromkeys(("eased", "half_life_from_share"), "emberwound.combat.pools"),
}

if not TYPE_CHECKING:  # a checker that saw it would let every misspelt name pass
    __getattr__ = loader(__name__, _HOMES)


def __dir__() -> list[str]:
    return list(__all__)
