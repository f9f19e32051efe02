"""The gallery."""


def questions() -> str:
    return ""


def pages() -> str:
    return ""


def front_page(text: str) -> str:
    return text
