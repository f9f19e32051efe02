"""Combat rules as data: hit detection, damage, death and respawning, run headless at a fixed tick and explained.

The names below load when they are first used, so that importing the package costs next to nothing.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

from emberwound._version import __version__

if TYPE_CHECKING:
    from emberwound.bout import Bout, Seat, Snapshot
    from emberwound.bout.views.camera import Camera, Follower
    from emberwound.chronicle import Chronicle, Recorder, rerun, run
    from emberwound.chronicle.files import load as load_chronicle
    from emberwound.chronicle.files import save as save_chronicle
    from emberwound.combat.easing import eased, half_life_from_share
    from emberwound.face import Rulebook
    from emberwound.study.ragdoll_preview import ragdoll_preview
    from emberwound.vocabulary import events
    from emberwound.vocabulary.errors import (
        BoutError,
        ChronicleError,
        EmberwoundError,
        ListenerError,
        OutputError,
        RulebookError,
    )
    from emberwound.vocabulary.reasons import Reason

__all__ = [
    "Bout",
    "BoutError",
    "Camera",
    "Chronicle",
    "ChronicleError",
    "EmberwoundError",
    "Follower",
    "ListenerError",
    "OutputError",
    "Reason",
    "Recorder",
    "Rulebook",
    "RulebookError",
    "Seat",
    "Snapshot",
    "__version__",
    "eased",
    "events",
    "half_life_from_share",
    "load_chronicle",
    "ragdoll_preview",
    "rerun",
    "run",
    "save_chronicle",
]

_ERRORS = "emberwound.vocabulary.errors"
_HOMES = {
    "Bout": ("emberwound.bout", "Bout"),
    "BoutError": (_ERRORS, "BoutError"),
    "Camera": ("emberwound.bout.views.camera", "Camera"),
    "Chronicle": ("emberwound.chronicle", "Chronicle"),
    "ChronicleError": (_ERRORS, "ChronicleError"),
    "EmberwoundError": (_ERRORS, "EmberwoundError"),
    "Follower": ("emberwound.bout.views.camera", "Follower"),
    "ListenerError": (_ERRORS, "ListenerError"),
    "OutputError": (_ERRORS, "OutputError"),
    "Reason": ("emberwound.vocabulary.reasons", "Reason"),
    "Recorder": ("emberwound.chronicle", "Recorder"),
    "Rulebook": ("emberwound.face", "Rulebook"),
    "RulebookError": (_ERRORS, "RulebookError"),
    "Seat": ("emberwound.bout", "Seat"),
    "Snapshot": ("emberwound.bout", "Snapshot"),
    "eased": ("emberwound.combat.easing", "eased"),
    "half_life_from_share": ("emberwound.combat.easing", "half_life_from_share"),
    "load_chronicle": ("emberwound.chronicle.files", "load"),
    "rerun": ("emberwound.chronicle", "rerun"),
    "run": ("emberwound.chronicle", "run"),
    "save_chronicle": ("emberwound.chronicle.files", "save"),
    "ragdoll_preview": ("emberwound.study.ragdoll_preview", "ragdoll_preview"),
}


def __getattr__(name: str) -> Any:
    if name == "events":
        return import_module("emberwound.vocabulary.events")
    if name not in _HOMES:
        raise AttributeError(f"module 'emberwound' has no attribute {name!r}")
    module, attribute = _HOMES[name]
    found = getattr(import_module(module), attribute)
    globals()[name] = found
    return found


def __dir__() -> list[str]:
    return list(__all__)
