"""Commands that run bouts, and show them again: `demo`, `run` and `replay`."""

from __future__ import annotations

import sys
from importlib.resources import files
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from emberwound.cli.choosing import FOLDER, Change, OfSource, Partial, Source, name_of

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.chronicle import Chronicle
    from emberwound.face import Rulebook

DEMO_BOOK, DEMO_BOUT = "saltglass.toml", "passage"

Out = Annotated[Path, typer.Option("--out", help="Folder for the chronicle and the figure.", metavar="DIR")]
Seed = Annotated[
    int | None, typer.Option(help="Seed of the bout's random draws, instead of the book's own.", min=0, max=2**63 - 1)
]
AsJson = Annotated[bool, typer.Option("--json", help="Print the story and the totals as JSON.")]


Wav = Annotated[Path | None, typer.Option(help="A file for the bout's sounds, a .wav.", metavar="FILE", dir_okay=False)]


Watched = Annotated[bool, typer.Option("--watch", help="Show it in the terminal while it runs.")]
Speed = Annotated[float, typer.Option(help="With --watch: so many times as fast as in life.", min=0.05, max=1000.0)]
Why = Annotated[bool, typer.Option("--why", help="Tell why each shot and swing that hit nobody missed.")]


def demo(
    bout: Annotated[str, typer.Argument(help="One of the book's bouts.")] = DEMO_BOUT,
    out: Out = FOLDER,
    *,
    json: AsJson = False,
) -> None:
    """Run a passage over the Saltglass Causeway, or another bout of its book, and leave the book beside it."""
    from emberwound.chronicle.files import ready_folder, write_beside
    from emberwound.face import Rulebook

    text = files("emberwound.demo").joinpath(DEMO_BOOK).read_text(encoding="utf-8")
    book = write_beside(ready_folder(out) / DEMO_BOOK, text.encode())
    if book.name != DEMO_BOOK:
        sys.stderr.write(f"{out / DEMO_BOOK} was changed and is left as it is; the demo's own book is {book.name}\n")
    chronicle = _run(Rulebook.parse(text, DEMO_BOOK), bout, out, None, json=json, also=[book])
    if not json:
        _ask_next(chronicle, book)


def _ask_next(chronicle: Chronicle, book: Path) -> None:
    """Two questions worth asking of the demo, as commands."""
    from emberwound.vocabulary.events import Died, ShotEnded

    missed = [event.shot for event in chronicle.events if isinstance(event, ShotEnded) and event.hurtbox is None]
    out = [event.seat for event in chronicle.events if isinstance(event, Died) and event.lives_left == 0]
    asked = f"emberwound inquest {book} {chronicle.header.script}"
    if missed:
        typer.echo(f"why did that shot miss?     {asked} --shot {missed[-1]}")
    if out:
        typer.echo(f"why does it not come back?  {asked} --missing respawn {out[-1]}")


def run(
    book: Annotated[Path, typer.Argument(help="A rulebook, a TOML file.", metavar="BOOK")],
    bout: Annotated[str | None, typer.Argument(help="One of its bouts; may be left out if it has one.")] = None,
    out: Out = FOLDER,
    seed: Seed = None,
    wav: Wav = None,
    speed: Speed = 1.0,
    change: Change = None,
    *,
    watch: Watched = False,
    why: Why = False,
    json: AsJson = False,
) -> None:
    """Run a bout of a rulebook: its story, its chronicle and its figure."""
    from emberwound.cli.choosing import changed, load_book
    from emberwound.vocabulary.errors import OutputError

    if watch and json:
        raise OutputError("--watch and --json: give one; what is watched is for eyes, JSON for programs")
    if speed != 1.0 and not watch:
        raise OutputError("--speed: it goes with --watch; without it a bout runs as fast as it can")
    if watch and why:
        raise OutputError("--watch and --why: give one; why a shot missed is known when the bout is over")
    rules, slow = changed(load_book(book), change or []), speed if watch else None
    _run(rules, bout, out, seed, json=json, wav=wav, speed=slow, why=why, changes=change or [])


def replay(
    source: Source,
    bout: OfSource = None,
    out: Annotated[Path | None, typer.Option("--out", help="The page to write, a .html.", metavar="FILE")] = None,
    *,
    why: Why = False,
    partial: Partial = False,
) -> None:
    """Write a page in which a bout can be played, stepped and scrubbed in any browser, without a network."""
    from emberwound.chronicle.files import ready_folder, write_whole
    from emberwound.cli.choosing import bout_of
    from emberwound.cli.output import progress_bar
    from emberwound.draw.replay import replay_page
    from emberwound.vocabulary.errors import OutputError

    if out is not None and out.suffix.lower() not in (".html", ".htm"):
        raise OutputError(f"--out {out}: a page is written as .html; got {out.suffix or 'no suffix'!r}")
    chronicle = bout_of(source, bout, partial=partial)
    with progress_bar("making the page") as progress:
        page = replay_page(chronicle, progress, why=why)
    file = out or FOLDER / f"replay-{name_of(chronicle)}.html"
    ready_folder(file.parent)
    typer.echo(f"written: {write_whole(file, page.encode())}")


def prepare() -> None:
    """Compile the kernels, once on this machine: bouts then run at full speed from their first tick."""
    from time import perf_counter

    from emberwound.cli.output import progress_bar
    from emberwound.geometry.jit import TIERS
    from emberwound.geometry.kernel_folder import kernel_folder
    from emberwound.preparation import prepare as compile_all

    if TIERS.is_off:
        typer.echo("nothing is compiled: NUMBA_DISABLE_JIT is set")
        return
    begun = perf_counter()
    with progress_bar("compiling") as progress:
        compile_all(progress)
    typer.echo(
        f"ready after {perf_counter() - begun:.0f} s; kept in {kernel_folder() or 'no folder: none can be written'}"
    )


def _run(
    rules: Rulebook,
    bout: str | None,
    out: Path,
    seed: int | None,
    *,
    json: bool,
    also: Sequence[Path] = (),
    wav: Path | None = None,
    speed: float | None = None,
    why: bool = False,
    changes: Sequence[str] = (),
) -> Chronicle:
    from emberwound.chronicle import run as run_bout
    from emberwound.chronicle.files import ready_folder, write_whole
    from emberwound.chronicle.narration import tell_story
    from emberwound.cli.choosing import choose, file_name
    from emberwound.cli.output import print_bout, progress_bar, watching
    from emberwound.draw.story import draw_story
    from emberwound.draw.style import to_bytes
    from emberwound.sound import check_wav, mix, to_wav
    from emberwound.study.summary import summarise

    name = choose("bout", bout, rules.book.bouts, rules.source)
    if wav is not None:
        check_wav(rules, wav)
        ready_folder(wav.parent)
    folder = ready_folder(out)
    if speed is None:
        with progress_bar(f"running {name}") as progress:
            chronicle = run_bout(rules, name, seed=seed, progress=progress)
    else:
        with watching(rules, name, speed) as watch:
            chronicle = run_bout(rules, name, seed=seed, watch=watch)
    stem = file_name(name, changes)
    written = [*also, chronicle.save(folder / f"{stem}.jsonl")]
    written.append(write_whole(folder / f"{stem}.png", to_bytes(draw_story(chronicle))))
    if wav is not None:
        written.append(write_whole(wav, to_wav(mix(chronicle))))
    story = [] if speed is not None else list(tell_story(chronicle, _whys(chronicle) if why else None))
    print_bout(chronicle, story, summarise(chronicle), written, changes, as_json=json)
    return chronicle


def _whys(chronicle: Chronicle) -> dict[int, str]:
    from emberwound.cli.output import progress_bar
    from emberwound.study.inquest.orders import lines_for_story, whys

    with progress_bar("asking why") as progress:
        return lines_for_story(whys(chronicle, progress=progress))
