"""Names."""


def table() -> str:
    return ""
