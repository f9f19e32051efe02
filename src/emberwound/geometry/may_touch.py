"""Whether something that hits may touch a shape at all: one rule for shots, rays, strikes, blasts and areas."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import Layer, MayTouch, Refusal, ShapeMark

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


@kernel
def refusal(layers: int, options: int, owner: int, team: int, shape_marks: NDArray[np.int64], shape: int) -> int:
    """Why a shape is left alone, a Refusal, 0 for one that may be touched.

    In this order: its layer, its owner's own body, its owner's team. `owner` is a number + 1; what nobody owns, and
    walls, know no owner and no team. An owner is judged as such, and not as one of its team.
    """
    layer = shape_marks[ShapeMark.LAYER, shape]
    if layer & layers == 0:
        if layer == Layer.CORPSE:
            return Refusal.TARGET_DEAD
        return Refusal.PROTECTED if layer == Layer.PROTECTED else Refusal.OTHER_LAYER
    theirs = shape_marks[ShapeMark.OWNER, shape]
    if owner == 0 or theirs == 0:
        return Refusal.NONE
    if theirs == owner:
        return Refusal.NONE if options & MayTouch.OWNER else Refusal.OWN_BODY
    if shape_marks[ShapeMark.TEAM, shape] == team and not options & MayTouch.TEAM:
        return Refusal.ALLY
    return Refusal.NONE
