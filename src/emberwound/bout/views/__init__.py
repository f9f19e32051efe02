"""Views: the moment between two ticks for whoever draws, records or asks."""
