"""What `Bout.view` gives: the moment between two ticks, for whoever draws, records or asks."""

from emberwound.bout.views import *  # noqa: F403 (the public name of the same names)
from emberwound.bout.views import __all__  # noqa: F401 (which of them there are)
