"""Faults of a made-up book, each with the key that was changed, written down before anything was asked."""
