"""Run the documents word for word: files are written, commands typed, and what they print is compared.

In a page a fence of any kind with `title="FILE"` writes that file, or adds to the end of a .toml that is there. With
`after="LINE"` its text goes below that line of the file, with `change="LINE"` in its place. A fence of the kind
`console` holds commands after `$ `, each with what it prints; a line `...` stands for lines left out.
`python tools/sessions.py PAGE` writes down what is printed now.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
from pathlib import Path

FENCE = re.compile(r"^```(\w+)([^\n]*)\n(.*?)^```$", re.MULTILINE | re.DOTALL)
COMMAND = re.compile(r"^\$ (.+)\n((?:(?!\$ ).*\n)*)", re.MULTILINE)
SECONDS = re.compile(r"\bin \d+\.\d+s\b")
WIDTH = "80"


def printed_by(folder: Path, command: str) -> str:
    """What a command prints in a folder, errors included, with this Python and in a terminal 80 wide."""
    binaries = str(Path(sys.executable).parent)
    env = {**os.environ, "COLUMNS": WIDTH, "PATH": f"{binaries}{os.pathsep}{os.environ['PATH']}"}
    done = subprocess.run(
        command, shell=True, cwd=folder, env=env, text=True, encoding="utf-8", check=False,
        stdout=subprocess.PIPE, stderr=subprocess.STDOUT,
    )  # fmt: skip
    return "".join(f"{line.rstrip()}\n" for line in SECONDS.sub("in 0.50s", done.stdout).splitlines())


def rerun(page: str, folder: Path) -> str:
    """The page with what its commands print now; output that fits what stands there is left as it is."""

    def fence(found: re.Match[str]) -> str:
        kind, words, body = found.groups()
        options = dict(re.findall(r'(\w+)="([^"]*)"', words))
        if "title" in options:
            _write(folder / options["title"], body, options.get("after"), options.get("change"))
        if kind != "console":
            return found[0]
        return f"```console{words}\n{COMMAND.sub(typed, body)}```"

    def typed(found: re.Match[str]) -> str:
        command, expected = found.groups()
        printed = printed_by(folder, command)
        return found[0] if fits(printed, expected) else f"$ {command}\n{printed}"

    return FENCE.sub(fence, page)


def fits(printed: str, expected: str) -> bool:
    """Whether output is as expected, `...` standing for any lines."""
    pattern = "".join(r"(?:.*\n)*" if line == "..." else re.escape(line) + "\n" for line in expected.splitlines())
    return re.fullmatch(pattern, printed) is not None


def _write(file: Path, text: str, after: str | None, change: str | None) -> None:
    held = file.read_text(encoding="utf-8") if file.exists() else ""
    wanted = after or change
    if wanted is not None:
        head, line, tail = held.partition(f"{wanted}\n")
        if not line:
            raise ValueError(f"{file.name} has no line {wanted!r}")
        text = head + (line if after else "") + text + tail
    elif held and file.suffix == ".toml":
        text = f"{held}\n{text}"
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_text(text, encoding="utf-8")


def main() -> None:
    """Write down what the commands of some pages print now."""
    for name in sys.argv[1:]:
        with tempfile.TemporaryDirectory() as folder:
            page = Path(name)
            page.write_text(rerun(page.read_text(encoding="utf-8"), Path(folder)), encoding="utf-8")


if __name__ == "__main__":
    main()
