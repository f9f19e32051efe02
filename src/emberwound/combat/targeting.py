"""Why something is left alone: the codes of the one rule in `geometry.may_touch`, as reasons."""

from __future__ import annotations

from emberwound.geometry.layout import Refusal
from emberwound.vocabulary.reasons import Reason

REASONS: dict[int, Reason] = {
    Refusal.TARGET_DEAD: Reason.TARGET_DEAD,
    Refusal.OTHER_LAYER: Reason.OTHER_LAYER,
    Refusal.OWN_BODY: Reason.OWN_BODY,
    Refusal.ALLY: Reason.ALLY,
    Refusal.PROTECTED: Reason.PROTECTED,
    Refusal.TOUCHED_BEFORE: Reason.TOUCHED_BEFORE,
}
"""The reason of each refusal; both have the same names."""
