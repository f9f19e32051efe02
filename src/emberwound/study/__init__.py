"""Questions asked of rules and of records: what a hit would do, where it throws, and what a bout came to."""
