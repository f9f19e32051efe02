from emberwound.bout.lives.counters import BoardRow as BoardRow
from emberwound.bout.views.frame import Named as Named
from emberwound.chronicle.lines import End as End
from emberwound.chronicle.lines import Header as Header
from emberwound.chronicle.tracks import Tracks as Tracks
from emberwound.combat.reaction import Side as Side
from emberwound.combat.terms import OwnStep as OwnStep
from emberwound.combat.terms import OwnSteps as OwnSteps
from emberwound.combat.terms import WoundContext as WoundContext
from emberwound.rulebook.models import Book as Book
from emberwound.vocabulary.errors import Problem as Problem
from emberwound.vocabulary.ledger import Ledger as Ledger
from emberwound.vocabulary.ledger import Loss as Loss
from emberwound.vocabulary.ledger import Step as Step
from emberwound.vocabulary.orders import *  # noqa: F403 (every input there is)
from emberwound.vocabulary.orders import AnyInput as AnyInput
from emberwound.vocabulary.orders import Facing as Facing
from emberwound.vocabulary.orders import Source as Source
