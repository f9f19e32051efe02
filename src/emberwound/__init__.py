"""Combat rules as data: hit detection, damage, death and respawning, run headless at a fixed tick and explained.

What is named here, in `emberwound.events`, `emberwound.study`, `emberwound.draw`, `emberwound.views`,
`emberwound.records` and `emberwound.testing` is public.
Every other module is internal: it may change without notice.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound._lazy import loader
from emberwound._version import __version__

if TYPE_CHECKING:
    from emberwound import draw, events, records, study, testing, views
    from emberwound.bout import Bout, Observer, PassedOver, Prop, Seat, Shot, Snapshot
    from emberwound.bout.views import Camera, Follower
    from emberwound.chronicle import Chronicle, Recorder, load_chronicle, rerun, run, save_chronicle
    from emberwound.face import Rulebook
    from emberwound.preparation import allow_compiling, prepare
    from emberwound.study.check import check
    from emberwound.study.inquest import inquest
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
    "Observer",
    "OutputError",
    "PassedOver",
    "Prop",
    "Reason",
    "Recorder",
    "Rulebook",
    "RulebookError",
    "Seat",
    "Shot",
    "Snapshot",
    "__version__",
    "allow_compiling",
    "check",
    "draw",
    "events",
    "inquest",
    "load_chronicle",
    "prepare",
    "records",
    "rerun",
    "run",
    "save_chronicle",
    "study",
    "testing",
    "views",
]

_HOMES = {
    **dict.fromkeys(("Bout", "Observer", "PassedOver", "Prop", "Seat", "Shot", "Snapshot"), "emberwound.bout"),
    **dict.fromkeys(("Camera", "Follower"), "emberwound.bout.views"),
    **dict.fromkeys(
        ("Chronicle", "Recorder", "load_chronicle", "rerun", "run", "save_chronicle"), "emberwound.chronicle"
    ),
    "Rulebook": "emberwound.face",
    **dict.fromkeys(("allow_compiling", "prepare"), "emberwound.preparation"),
    "check": "emberwound.study.check",
    "inquest": "emberwound.study.inquest",
    **dict.fromkeys(
        ("BoutError", "ChronicleError", "EmberwoundError", "ListenerError", "OutputError", "RulebookError"),
        "emberwound.vocabulary.errors",
    ),
    "Reason": "emberwound.vocabulary.reasons",
}
_MODULES = {name: f"emberwound.{name}" for name in ("draw", "events", "records", "study", "testing", "views")}

if not TYPE_CHECKING:  # a checker that saw it would let every misspelt name pass
    __getattr__ = loader(__name__, _HOMES, _MODULES)


def __dir__() -> list[str]:
    return list(__all__)
