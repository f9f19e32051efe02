"""The demo's data: the Saltglass Causeway."""
