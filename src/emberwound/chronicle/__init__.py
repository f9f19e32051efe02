"""The record of a bout: header, inputs, events and tracks; kept in a file, read back, and run again."""

from emberwound.chronicle.chronicle import Chronicle, Recorder, rerun, run

__all__ = ["Chronicle", "Recorder", "rerun", "run"]
