"""Hits: what touches whom, what that does to a body, and what follows: knockback, hit stop, reactions, afflictions."""
