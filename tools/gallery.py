"""The pages of the examples: one for each, an index by question, the gallery of their pictures, and the pictures."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

import sessions
from emberwound.cli.shelf import Example, examples

ROOT = Path(__file__).parent.parent
PAGES, PICTURES = ROOT / "docs" / "how-to", ROOT / "docs" / "gallery"
WIDTH = "100"


def groups() -> list[tuple[str, list[Example]]]:
    """The examples in their groups, as the list beside them has them."""
    listed = (ROOT / "examples" / "README.md").read_text(encoding="utf-8")
    known = {each.name: each for each in examples()}
    parts = re.split(r"^## (.+)$", listed, flags=re.MULTILINE)[1:]
    return [
        (title, [known[name] for name in re.findall(r"^- \[(\S+)\]", body, re.MULTILINE)])
        for title, body in zip(parts[::2], parts[1::2], strict=True)
    ]


def questions() -> str:
    """Every question that an example answers, with its page, by group."""
    lines: list[str] = []
    for title, members in groups():
        lines += ["", f"### {title}", ""]
        lines += [f"- [{asked}](how-to/{each.name}.md)" for each in members for asked in _parts(each)[1]]
    return "\n".join(lines)


def pictures(*names: str) -> str:
    """The pictures of some examples, or of all, two a row."""
    shown = [each for each in examples() if not names or each.name in names]
    cells = [
        f"[![{each.shows}](gallery/{each.name}.png)](how-to/{each.name}.md)<br>[{each.shows}](how-to/{each.name}.md)"
        for each in shown
    ]
    rows = [cells[index : index + 2] for index in range(0, len(cells), 2)]
    return "\n".join(["| | |", "|---|---|", *(f"| {' | '.join([*row, ''][:2])} |" for row in rows)])


def pages() -> dict[Path, str]:
    """A page for each example: what it answers, its picture, its files, and what comes out."""
    return {PAGES / f"{each.name}.md": _page(each) for each in examples()}


def _parts(example: Example) -> tuple[str, list[str], str, list[str]]:
    """The title of an example, its questions, its text, and its commands."""
    title, asked, *text, commands = example.files["README.md"].decode().strip().split("\n\n")
    asks = [line.removeprefix("- ") for line in asked.splitlines()]
    return title, asks, "\n\n".join(text), [line.strip() for line in commands.splitlines()]


def _page(example: Example) -> str:
    title, asks, text, commands = _parts(example)
    parts = [
        title,
        "\n".join(f"- *{asked}*" for asked in asks),
        text,
        f"    emberwound example {example.name} && cd {example.name}\n" + "\n".join(f"    {each}" for each in commands),
        f"![{example.shows}](../gallery/{example.name}.png)",
        *_file("The rulebook, `book.toml`", "toml", example.files["book.toml"]),
    ]
    if "script.py" in example.files:
        parts += _file("The script, `script.py`", "python", example.files["script.py"])
    parts += _file("What comes out", "text", example.files["expected.txt"])
    return "\n\n".join(parts) + "\n"


def _file(title: str, kind: str, content: bytes) -> list[str]:
    return [f"## {title}", f"```{kind}\n{content.decode().rstrip()}\n```"]


def front_page(readme: str) -> str:
    """The README as the first page of the site: its links go from the folder of the documents."""
    text = readme.replace("](docs/", "](").replace("(docs/", "(")
    return re.sub(r"\[([^\]]+)\]\((?:CHANGELOG|CONTRIBUTING|LICENSE)[^)]*\)", r"\1", text)


def run_in(folder: Path, command: str) -> str:
    """What a command prints in a folder, with this Python and in a terminal of a known width."""
    binaries = str(Path(sys.executable).parent)
    env = {**os.environ, "COLUMNS": WIDTH, "PATH": f"{binaries}{os.pathsep}{os.environ['PATH']}"}
    done = subprocess.run(
        command.split(), cwd=folder, env=env, capture_output=True, text=True, encoding="utf-8", check=False
    )
    if done.returncode:
        raise RuntimeError(f"{command}: {done.stderr}")
    return done.stdout


def lay_out(example: Example, folder: Path) -> list[str]:
    """Copy an example into a folder; its commands."""
    for name, content in example.files.items():
        (folder / name).write_bytes(content)
    return _parts(example)[3]


def make(*names: str) -> None:
    """Run examples, or all: write down what they print, and paint their pictures."""
    PICTURES.mkdir(exist_ok=True)
    for example in examples():
        if names and example.name not in names:
            continue
        with tempfile.TemporaryDirectory() as place:
            printed = [run_in(Path(place), command) for command in lay_out(example, Path(place))]
            expected = ROOT / "examples" / example.name / "expected.txt"
            expected.write_text(sessions.SECONDS.sub("in 0.50s", printed[0]), encoding="utf-8")
            drawn = [*Path(place).glob("*.png"), *Path(place, "emberwound-out").glob("*.png")]
            shutil.copy(
                max(drawn, key=lambda file: (file.parent.samefile(place), file.stat().st_mtime)),
                PICTURES / f"{example.name}.png",
            )
            print(f"made: {example.name}")


if __name__ == "__main__":
    make(*sys.argv[1:])
