"""What happened in a bout, as frozen values: every type of event, for `isinstance` and for `Bout.on`."""

from emberwound.vocabulary.events import *  # noqa: F403 (the public name of the same names)
from emberwound.vocabulary.events import __all__  # noqa: F401 (which of them there are)
