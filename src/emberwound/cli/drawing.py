"""Commands that draw rules and bouts: `draw arena`, `draw shots`, `draw lives` and the others."""

from __future__ import annotations

from enum import StrEnum
from pathlib import Path
from typing import Annotated

import typer

from emberwound.cli.choosing import (
    FOLDER,
    Against,
    Changes,
    OfSource,
    OrderAsked,
    Partial,
    ShotAsked,
    Source,
    SwingAsked,
    name_of,
    write_and_tell,
)

draw = typer.Typer(help="Draw rules and bouts.", no_args_is_help=True, rich_markup_mode=None)

Between = Annotated[
    tuple[float, float] | None, typer.Option(help="Show no more than from one second to another.", metavar="FROM TO")
]
Ticks = Annotated[list[int] | None, typer.Option(help="A tick to be shown; repeat it.", min=0)]
Out = Annotated[Path | None, typer.Option("--out", help="The file to draw into, a .png or .svg.", metavar="FILE")]


class Moment(StrEnum):
    """What a film strip is taken round."""

    RELEASE = "release"
    END = "end"


@draw.command()
def arena(
    book: Annotated[Path, typer.Argument(help="A rulebook, a TOML file.", metavar="BOOK")],
    arena: Annotated[str | None, typer.Argument(help="One of its arenas; may be left out if it has one.")] = None,
    tick: Annotated[int | None, typer.Option(help="Hazards as they are on this tick.", min=0)] = None,
    out: Out = None,
) -> None:
    """Draw an arena: walls, entries and paths, and the fighters with their hurtboxes and muzzles."""
    from emberwound.cli.choosing import choose, load_book
    from emberwound.draw.arena import draw_arena

    rules = load_book(book)
    name = choose("arena", arena, rules.book.arenas, rules.source)
    write_and_tell(draw_arena(rules, name, tick=tick), out, f"arena-{name}")


@draw.command()
def story(
    source: Source,
    bout: OfSource = None,
    between: Between = None,
    tick: Ticks = None,
    out: Out = None,
    *,
    partial: Partial = False,
) -> None:
    """Draw the story of a run: where all stood and walked, each shot's path, and health over time."""
    from emberwound.cli.choosing import bout_of
    from emberwound.draw.story import draw_story

    chronicle = bout_of(source, bout, partial=partial)
    write_and_tell(draw_story(chronicle, between=between, ticks=tick), out, f"story-{name_of(chronicle)}")


@draw.command()
def shots(
    source: Source,
    bout: OfSource = None,
    strip: Annotated[Moment | None, typer.Option(help="A film strip round this moment of one shot.")] = None,
    shot: Annotated[int, typer.Option(help="Id of the shot of the strip.", min=1)] = 1,
    step: Annotated[int, typer.Option(help="Ticks from one picture of the strip to the next.", min=1, max=1000)] = 2,
    between: Between = None,
    change: Changes = None,
    out: Out = None,
    *,
    partial: Partial = False,
) -> None:
    """Draw the shots of a run, of variants of its rules too; or a film strip of one release or end."""
    from emberwound.cli.choosing import variants_of_bout
    from emberwound.draw.shots import draw_shot_strip, draw_shots
    from emberwound.vocabulary.errors import OutputError

    if strip is not None and change:
        raise OutputError("--strip and --set: give one; a strip shows one shot of one bout")
    (_, chronicle), *variants = variants_of_bout(source, bout, change or [], partial=partial)
    name = name_of(chronicle)
    if strip is None:
        write_and_tell(draw_shots(chronicle, between=between, variants=variants), out, f"shots-{name}")
    else:
        write_and_tell(draw_shot_strip(chronicle, shot, strip.value, step=step), out, f"strip-{name}-{shot}-{strip}")


@draw.command()
def lives(
    source: Source,
    bout: OfSource = None,
    between: Between = None,
    out: Out = None,
    *,
    partial: Partial = False,
) -> None:
    """Draw the lives of a run: what each seat was when, who was credited with its deaths, lives left and score."""
    from emberwound.cli.choosing import bout_of
    from emberwound.draw.lives import draw_lives

    chronicle = bout_of(source, bout, partial=partial)
    write_and_tell(draw_lives(chronicle, between=between), out, f"lives-{name_of(chronicle)}")


@draw.command()
def bars(
    source: Source,
    bout: OfSource = None,
    seat: Annotated[str | None, typer.Option(help="Whose bars; those of the most wounded if left out.")] = None,
    between: Between = None,
    tick: Ticks = None,
    out: Out = None,
    *,
    partial: Partial = False,
) -> None:
    """Draw the bars of a seat in a run: true against shown over time, the trail, and the bars at moments."""
    from emberwound.cli.choosing import bout_of
    from emberwound.draw.bars import draw_bars

    chronicle = bout_of(source, bout, partial=partial)
    write_and_tell(draw_bars(chronicle, seat, between=between, ticks=tick), out, f"bars-{name_of(chronicle)}")


@draw.command()
def attack(
    book: Annotated[Path, typer.Argument(help="A rulebook, a TOML file.", metavar="BOOK")],
    attack: Annotated[str, typer.Argument(help="One of its attacks.")],
    fighter: Annotated[str | None, typer.Option(help="Who does it; the first fighter that has it if left out.")] = None,
    arena: Annotated[str | None, typer.Option(help="In which arena; the first if left out.")] = None,
    tick: Ticks = None,
    against: Annotated[str | None, typer.Option(help="A fighter: how it reacts, and who can act first.")] = None,
    out: Out = None,
) -> None:
    """Draw an attack: its time line, and its hitboxes round the fighter at chosen ticks."""
    from emberwound.cli.choosing import load_book
    from emberwound.draw.attack import draw_attack

    figure = draw_attack(load_book(book), attack, fighter=fighter, arena=arena, ticks=tick, against=against)
    write_and_tell(figure, out, f"attack-{attack}")


@draw.command()
def knockback(
    book: Annotated[Path, typer.Argument(help="A rulebook, a TOML file.", metavar="BOOK")],
    attack: Annotated[str, typer.Argument(help="One of its attacks.")],
    victim: Annotated[str, typer.Argument(help="The fighter that is knocked back.")],
    arena: Annotated[str | None, typer.Option(help="In which arena; the first if left out.")] = None,
    hitbox: Annotated[
        str | None, typer.Option(help="With which hitbox of a strike; the first that fits if left out.")
    ] = None,
    change: Changes = None,
    out: Out = None,
    *,
    blast: Annotated[
        bool | None, typer.Option("--blast/--no-blast", help="By its blast, or by anything else; if left out, as fits.")
    ] = None,
    guarded: Annotated[bool, typer.Option("--guarded", help="Against the victim's guard.")] = False,
    json: Annotated[bool, typer.Option("--json", help="Print the figures as JSON.")] = False,
) -> None:
    """Draw how an attack knocks a fighter back: apex, landing, rest; for the book's values and for variants."""
    from emberwound.cli.choosing import load_book, variants_of_hit
    from emberwound.cli.output import print_pushes
    from emberwound.draw.hits import draw_pushes
    from emberwound.draw.style import write_figure

    rules = load_book(book)
    ways = [
        (label, each.knockback_path(attack, victim, arena=arena, hitbox=hitbox, blast=blast, guarded=guarded))
        for label, each in variants_of_hit(rules, change or [], attack, victim, hitbox=hitbox, blast=blast)
    ]
    units = rules.book.settings.units
    file = write_figure(
        draw_pushes(ways, units), out or FOLDER / f"knockback-{attack}-{victim}{'-guarded' if guarded else ''}.png"
    )
    print_pushes(ways, units, file, as_json=json)


@draw.command()
def reaction(
    book: Annotated[Path, typer.Argument(help="A rulebook, a TOML file.", metavar="BOOK")],
    attack: Annotated[str, typer.Argument(help="One of its attacks.")],
    victim: Annotated[str, typer.Argument(help="The fighter it hits.")],
    change: Changes = None,
    out: Out = None,
    *,
    json: Annotated[bool, typer.Option("--json", help="Print the figures as JSON.")] = False,
) -> None:
    """Draw what a victim does after a hit, unguarded beside guarded, and who can attack first; variants below it."""
    from emberwound.cli.choosing import load_book, variants_of_hit
    from emberwound.cli.output import print_reactions
    from emberwound.draw.hits import draw_reaction
    from emberwound.draw.style import write_figure

    rules, *variants = variants_of_hit(load_book(book), change or [], attack, victim)
    figure = draw_reaction(rules[1], attack, victim, variants=variants)
    file = write_figure(figure, out or FOLDER / f"reaction-{attack}-{victim}.png")
    told = [(name, each.advantage(attack, victim)) for name, each in (rules, *variants)]
    print_reactions(told if variants else [("", told[0][1])], file, as_json=json)


@draw.command()
def ragdoll(
    book: Annotated[Path, typer.Argument(help="A rulebook, a TOML file.", metavar="BOOK")],
    attack: Annotated[str, typer.Argument(help="One of its attacks.")],
    victim: Annotated[str, typer.Argument(help="A fighter with a ragdoll table.")],
    hurtbox: Annotated[
        list[str] | None, typer.Option(help="Where it is hit; repeat it. The first three hurtboxes if left out.")
    ] = None,
    arena: Annotated[str | None, typer.Option(help="In which arena; the first if left out.")] = None,
    out: Out = None,
) -> None:
    """Draw how a fighter's body falls when an attack's push kills it: a film strip for each place it is hit."""
    from emberwound.cli.choosing import load_book
    from emberwound.draw.ragdoll import draw_ragdoll

    figure = draw_ragdoll(load_book(book), attack, victim, hurtboxes=hurtbox or (), arena=arena)
    write_and_tell(figure, out, f"ragdoll-{attack}-{victim}")


@draw.command()
def inquest(
    source: Source,
    bout: OfSource = None,
    shot: ShotAsked = None,
    swing: SwingAsked = None,
    order: OrderAsked = None,
    against: Against = None,
    out: Out = None,
    *,
    partial: Partial = False,
) -> None:
    """Draw why a shot or a swing missed, with the gap at its nearest, or what kept an order waiting."""
    from emberwound.cli.choosing import asked_of
    from emberwound.draw.inquest import draw_inquest
    from emberwound.vocabulary.errors import OutputError

    if sum(each is not None for each in (shot, swing, order)) != 1:
        raise OutputError("draw inquest: give one of --shot, --swing and --order")
    chronicle = asked_of(source, bout, against, partial=partial)
    asked = f"shot-{shot}" if shot is not None else "-".join(map(str, swing or order or ()))
    figure = draw_inquest(chronicle, shot=shot, swing=swing, order=order)
    write_and_tell(figure, out, f"inquest-{name_of(chronicle)}-{asked}")
