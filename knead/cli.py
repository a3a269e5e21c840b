"""The `knead` command."""

import atexit
import contextlib
import gc
import signal
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn

import click

if TYPE_CHECKING:
    from sqlalchemy import Engine

    from knead.core.model import Blend
    from knead.service.render import ExportFormat

BLENDS = ["auto", "direct", "arc", "solid"]
FORMATS = ["animated-svg", "mp4", "webm", "gif", "apng", "png-sequence", "svg-sequence", "exposure-sheet"]

EASE = click.FloatRange(-1, 1)
FILE = click.Path(path_type=Path)
port_option = click.option("--port", default=8420, type=click.IntRange(1, 65535), help="The loopback port.")
database_option = click.option(
    "--database",
    envvar="KNEAD_DATABASE",
    show_envvar=True,
    help="postgresql+psycopg://...; Knead's own cluster under .knead if not given.",
)


def _refuse(sentence: object) -> NoReturn:
    click.echo(f"knead: {sentence}", err=True)
    raise click.exceptions.Exit(2)


@click.group(context_settings={"show_default": True})
def app() -> None:
    """Knead turns a few hand-drawn vector keys into a drawn morph.

    `knead demo` opens the pond scene in the browser; `knead inbetween` works on two SVG files, without any server.
    """
    gc.set_threshold(50_000, 20, 50)  # reading a large drawing makes so many models, all of which stay


@app.command()
@click.argument("first", metavar="FROM.svg", type=FILE)
@click.argument("second", metavar="TO.svg", type=FILE)
@click.option("--count", type=int, required=True, help="How many in-betweens; two more files hold the keys.")
@click.option("--out", type=FILE, required=True, help="The folder to make, with 0000.svg, 0001.svg, ...")
@click.option("--hints", type=FILE, help="A JSON file of hints: points of the first key tied to the second.")
@click.option("--blend", type=click.Choice(BLENDS), default="auto", help="How points travel.")
@click.option("--ease-in", default=0.0, type=EASE, help="How gently it arrives at the second key; 0 is even.")
@click.option("--ease-out", default=0.0, type=EASE, help="How gently it leaves the first key; 0 is even.")
@click.option("--report", type=FILE, help="Write pairs, confidence, reasons and warnings as JSON.")
def inbetween(
    first: Path,
    second: Path,
    count: int,
    out: Path,
    hints: Path | None,
    blend: "Blend",
    ease_in: float,
    ease_out: float,
    report: Path | None,
) -> None:
    """In-between two SVG files.

    Every shape of the result is one path with final coordinates; data-from and data-to name the elements it is made of,
    and a pair has the same path commands in every file.
    """
    from knead.core.model import Ease
    from knead.formats.svg_guard import BadSvg
    from knead.service.file_morph import MorphError, morph_files

    try:
        morph_files(first, second, out, count, blend, Ease(out=ease_out, into=ease_in), hints, report)
    except (BadSvg, MorphError) as error:
        _refuse(error)


@app.command()
@port_option
def demo(port: int) -> None:
    """Start everything on this machine.

    The pond scenes are put on the shelf if it is empty.
    """
    _serve(_database(None), port, with_demo=True)


@app.command()
@database_option
@port_option
def serve(database: str | None, port: int) -> None:
    """Start the server without demo scenes.

    It works on a database of your own, or on Knead's local one.
    """
    _serve(_database(database), port, with_demo=False)


@app.command()
@database_option
def worker(database: str | None) -> None:
    """Take export jobs from the queue, beside the server's own worker; run as many as you like."""
    import asyncio

    from knead.service.jobs import ExportDesk
    from knead.service.studio import Studio

    engine = _engine(_database(database))
    desk = ExportDesk(engine, Studio(engine))

    async def work() -> None:
        async with desk.queue.open_async():
            await desk.work()

    click.echo("Waiting for exports. Ctrl+C stops.")
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(work())


@app.command()
@click.argument("scene")
@click.option("--format", type=click.Choice(FORMATS), required=True, help="What to write.")
@click.option("--out", type=FILE, required=True, help="The file to write; sequences are zip files.")
@click.option("--width", default=960, type=click.IntRange(16, 4096), help="Width of the picture in pixels.")
@click.option("--first", default=1, type=click.IntRange(min=1), help="First frame.")
@click.option("--last", type=click.IntRange(min=1), help="Last frame; the scene's last if not given.")
@click.option("--there-and-back", is_flag=True, help="Play forwards and back, no end drawing twice.")
@click.option("--paper/--no-paper", default=True, help="Paint the paper, or leave it clear.")
@database_option
def export(
    scene: str,
    format: "ExportFormat",
    out: Path,
    width: int,
    first: int,
    last: int | None,
    there_and_back: bool,
    paper: bool,
    database: str | None,
) -> None:
    """Export a scene to a file. SCENE is a scene bundle (a file), or the name of a scene."""
    from knead.core.model import SceneBundle
    from knead.formats.bundle import BadBundle, read_bundle
    from knead.service.file_export import export_bundle, find_scene
    from knead.service.render import ExportOptions

    try:
        bundle: SceneBundle = (
            read_bundle(Path(scene).read_bytes(), scene)
            if Path(scene).is_file()
            else find_scene(_database(database), scene)
        )
        end = last or bundle.scene.length
        options = ExportOptions(
            format=format, width=width, first=first, last=end, there_and_back=there_and_back, paper=paper
        )
        export_bundle(bundle, options, out)
    except (BadBundle, LookupError, ValueError, OSError) as error:
        _refuse(error)


@app.command(hidden=True)
@click.argument("openapi", type=FILE)
@click.argument("bundle", type=FILE)
def schemas(openapi: Path, bundle: Path) -> None:
    """Write the API's OpenAPI document and the bundle's JSON Schema."""
    import json

    from knead.formats.bundle import bundle_schema
    from knead.store.database import engine_for
    from knead.web.app import create_app

    document = create_app(engine_for("postgresql+psycopg://nowhere"), None).openapi()
    openapi.parent.mkdir(parents=True, exist_ok=True)
    openapi.write_text(json.dumps(document, indent=1, sort_keys=True) + "\n")
    bundle.write_text(bundle_schema())


def _database(address: str | None) -> str:
    """The given address, or Knead's own cluster under .knead, started if need be."""
    if address:
        return address
    from knead.store.cluster import ClusterError, cluster_in
    from knead.store.database import ensure_database

    try:
        cluster = cluster_in(Path(".knead"))
        server = cluster.start()
        atexit.register(cluster.stop_if_idle)
        return ensure_database(server, "knead")
    except (ClusterError, OSError) as error:
        _refuse(error)


def _engine(address: str) -> "Engine":
    from sqlalchemy.exc import OperationalError

    from knead.store.database import engine_for

    engine = engine_for(address)
    try:
        with engine.connect():
            return engine
    except OperationalError as error:
        _refuse(f"the database can't be reached: {str(error.orig).strip().splitlines()[0]}")


def _serve(address: str, port: int, with_demo: bool) -> None:
    import socket

    import uvicorn

    from knead.service.demo import demo_bundles
    from knead.store.database import migrate
    from knead.web.app import create_app

    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            _refuse(f"port {port} is in use; stop what runs there, or choose another with --port.")
    front_end = Path(__file__).parents[1] / "frontend" / "dist"
    if not (front_end / "index.html").exists():
        _refuse("the front end is not built yet; run 'make demo', which builds it.")
    engine = _engine(address)
    migrate(engine)
    web = create_app(engine, front_end)
    if with_demo and web.state.studio.store.is_empty():
        for bundle in reversed(demo_bundles()):  # the latest is the first on the shelf
            web.state.studio.keep_bundle(bundle)
    click.echo(f"Knead is at http://127.0.0.1:{port}  (Ctrl+C stops it)")
    gc.collect()
    gc.freeze()  # what is loaded now stays: looking through it again and again would hold up answers by 100 ms
    signal.signal(signal.SIGTERM, signal.default_int_handler)  # a polite end, too, stops the cluster
    with contextlib.suppress(KeyboardInterrupt):
        uvicorn.run(web, host="127.0.0.1", port=port, log_level="warning")
    engine.dispose()


if __name__ == "__main__":
    app()
