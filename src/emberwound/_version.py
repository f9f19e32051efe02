"""The version of the package, read by the build and by chronicles."""

__version__ = "0.1.0"
