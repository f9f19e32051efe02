"""The record of a bout: header, inputs, events and tracks; kept in a file, read back, and run again."""

from emberwound.chronicle.chronicle import Chronicle, Recorder, rerun, run
from emberwound.chronicle.files import load as load_chronicle
from emberwound.chronicle.files import save as save_chronicle

__all__ = ["Chronicle", "Recorder", "load_chronicle", "rerun", "run", "save_chronicle"]
