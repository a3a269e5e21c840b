"""Rendered pictures: PNG files, zipped sequences, animated GIF and APNG."""

import io
import zipfile
from collections.abc import Iterable

import resvg_py
from PIL import Image


def png_of(svg: str, width: int) -> bytes:
    """An SVG document as a PNG of this width in pixels; the height follows."""
    return bytes(resvg_py.svg_to_bytes(svg_string=svg, width=width, skip_system_fonts=True))


def zipped(files: Iterable[tuple[str, bytes]]) -> bytes:
    """Named files as one zip."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files:
            archive.writestr(zipfile.ZipInfo(name, (2026, 1, 1, 0, 0, 0)), data)
    return out.getvalue()


def animated(pngs: Iterable[bytes], rate: float, kind: str) -> bytes:
    """Frames as an endless GIF or APNG (`kind` is 'gif' or 'apng'). GIF times are whole hundredths of a second."""
    images = [Image.open(io.BytesIO(data)) for data in pngs]
    out = io.BytesIO()
    if kind == "apng":
        images[0].save(out, "PNG", save_all=True, append_images=images[1:], duration=1000 / rate, loop=0)
    else:
        first, *rest = map(_for_gif, images)
        first.save(
            out, "GIF", save_all=True, append_images=rest, duration=1000 / rate, loop=0, disposal=2, optimize=False
        )
    return out.getvalue()


def _for_gif(image: Image.Image) -> Image.Image:
    """255 colours fitted to the frame and, where the picture has clear places, one that is transparent."""
    rgba = image.convert("RGBA")
    alpha = rgba.getchannel("A")
    if alpha.getextrema()[0] == 255:
        return rgba.convert("RGB").quantize(256, dither=Image.Dither.NONE)
    flat = rgba.convert("RGB").quantize(255, dither=Image.Dither.NONE)
    flat.paste(255, mask=alpha.point(lambda a: 255 if a < 128 else 0))
    flat.info["transparency"] = 255
    return flat
