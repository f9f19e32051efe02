"""Where the capsules fixed to moving frames are at the start and at the end of a tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.geometry.contact import (
    CAPSULE_A,
    CAPSULE_A_END,
    CAPSULE_B,
    CAPSULE_B_END,
    CAPSULE_OWNER,
    CAPSULE_RADIUS,
    CAPSULE_RANK,
    CAPSULE_ROWS,
)
from emberwound.geometry.jit import kernel

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

FRAME_START, FRAME_END, FRAME_AHEAD = 0, 3, 6
FRAME_ROWS = 8
FRAME_ID, FRAME_OWNER, FRAME_MODEL, FRAME_LIVE = range(4)

OFFSET_A, OFFSET_B, OFFSET_RADIUS, OFFSET_ROWS = 0, 3, 6, 7


@kernel
def lay_capsules(
    frames: NDArray[np.float64],
    frame_marks: NDArray[np.int64],
    offsets: NDArray[np.float64],
    offset_counts: NDArray[np.int64],
    capsules: NDArray[np.float64],
    capsule_marks: NDArray[np.int64],
) -> None:
    """Write both poses of every capsule; those of frames that are not live are zeroed.

    `offsets` is (7, models, most): ends a and b as (ahead, left, up), and the radius. An offset (f, l, u) on a frame
    heading (hx, hy) lies at (f hx - l hy, f hy + l hx, u), so it turns and mirrors with the heading.
    A frame turns between ticks, never within one: both poses share its heading.
    """
    most = offsets.shape[2]
    for frame in range(frames.shape[1]):
        live = frame_marks[FRAME_LIVE, frame] == 1
        model = frame_marks[FRAME_MODEL, frame]
        hx = frames[FRAME_AHEAD, frame]
        hy = frames[FRAME_AHEAD + 1, frame]
        for part in range(most):
            capsule = frame * most + part
            if not live or part >= offset_counts[model]:
                capsule_marks[CAPSULE_OWNER, capsule] = 0
                capsule_marks[CAPSULE_RANK, capsule] = 0
                for row in range(CAPSULE_ROWS):
                    capsules[row, capsule] = 0.0
                continue
            capsule_marks[CAPSULE_OWNER, capsule] = frame_marks[FRAME_OWNER, frame]
            capsule_marks[CAPSULE_RANK, capsule] = frame_marks[FRAME_ID, frame] * most + part
            capsules[CAPSULE_RADIUS, capsule] = offsets[OFFSET_RADIUS, model, part]
            for start, end, offset in ((CAPSULE_A, CAPSULE_A_END, OFFSET_A), (CAPSULE_B, CAPSULE_B_END, OFFSET_B)):
                ahead = offsets[offset, model, part]
                left = offsets[offset + 1, model, part]
                x = ahead * hx - left * hy
                y = ahead * hy + left * hx
                z = offsets[offset + 2, model, part]
                capsules[start, capsule] = frames[FRAME_START, frame] + x
                capsules[start + 1, capsule] = frames[FRAME_START + 1, frame] + y
                capsules[start + 2, capsule] = frames[FRAME_START + 2, frame] + z
                capsules[end, capsule] = frames[FRAME_END, frame] + x
                capsules[end + 1, capsule] = frames[FRAME_END + 1, frame] + y
                capsules[end + 2, capsule] = frames[FRAME_END + 2, frame] + z
