"""The `knead` command."""

from pathlib import Path
from typing import Annotated, Literal, NoReturn

import typer

app = typer.Typer(
    help="Knead turns a few hand-drawn vector keys into a drawn morph.\n\n"
    "`knead demo` opens the pond scene in the browser; `knead inbetween` works on two SVG files, without any server.",
    no_args_is_help=True,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)


def _refuse(sentence: object) -> NoReturn:
    typer.echo(f"knead: {sentence}", err=True)
    raise typer.Exit(2)


@app.command()
def inbetween(
    first: Annotated[Path, typer.Argument(metavar="FROM.svg", help="The first key.")],
    second: Annotated[Path, typer.Argument(metavar="TO.svg", help="The second key.")],
    count: Annotated[int, typer.Option(help="How many in-betweens; two more files hold the keys.")],
    out: Annotated[Path, typer.Option(help="The folder to make, with 0000.svg, 0001.svg, ...")],
    hints: Annotated[
        Path | None, typer.Option(help="A JSON file of hints: points of the first key tied to the second.")
    ] = None,
    blend: Annotated[Literal["auto", "direct", "arc", "solid"], typer.Option(help="How points travel.")] = "auto",
    ease_in: Annotated[
        float, typer.Option(min=-1, max=1, help="How gently it arrives at the second key; 0 is even.")
    ] = 0.0,
    ease_out: Annotated[
        float, typer.Option(min=-1, max=1, help="How gently it leaves the first key; 0 is even.")
    ] = 0.0,
    report: Annotated[Path | None, typer.Option(help="Write pairs, confidence, reasons and warnings as JSON.")] = None,
) -> None:
    """In-between two SVG files.

    Every shape of the result is one path with final coordinates; data-from and data-to name the elements it is made of,
    and a pair has the same path commands in every file.
    """
    from knead.core.model import Ease
    from knead.formats.svg_guard import BadSvg
    from knead.service.file_morph import MorphError, morph_files

    if blend == "solid":
        _refuse("the blend 'solid' is not built yet; use auto, direct or arc.")
    try:
        morph_files(first, second, out, count, blend, Ease(out=ease_out, into=ease_in), hints, report)
    except (BadSvg, MorphError) as error:
        _refuse(error)


if __name__ == "__main__":
    app()
