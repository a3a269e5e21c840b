"""Pictures to draw over: PNG, JPEG, WebP as they are; SVG as the PNG it shows."""

import io
from typing import Literal
from xml.etree.ElementTree import tostring

from PIL import Image as Pillow
from PIL import UnidentifiedImageError

from knead.core.model import Image
from knead.formats.pictures import png_of
from knead.formats.svg_guard import BadSvg, safe_root

MOST_BYTES = 30 * 1024 * 1024
MOST_PIXELS = 60_000_000
SVG_WIDTH = 1600
TYPES: dict[str, Literal["image/png", "image/jpeg", "image/webp"]] = {
    "PNG": "image/png",
    "JPEG": "image/jpeg",
    "WEBP": "image/webp",
}


class BadImage(ValueError):
    """A file that is no picture Knead can show; the message is a sentence for the user."""


def read_image(data: bytes, what: str = "The file") -> tuple[Image, int, int]:
    """A picture, with its width and height in pixels. Raises BadImage with a sentence that begins with `what`."""
    if len(data) > MOST_BYTES:
        raise BadImage(f"{what} is larger than {MOST_BYTES // 2**20} MB.")
    if what.lower().endswith(".svg") or data.lstrip()[:5].lower() in (b"<?xml", b"<svg "):
        data = _shown(data, what)
    try:
        with Pillow.open(io.BytesIO(data)) as picture:
            kind, (width, height) = TYPES.get(picture.format or ""), picture.size
            if kind is None:
                raise BadImage(f"{what} is a picture of another kind. PNG, JPEG, WebP and SVG can be shown.")
            if width * height > MOST_PIXELS:
                raise BadImage(f"{what} has {width} x {height} pixels, which is too many. Make it smaller first.")
            picture.load()
    except (UnidentifiedImageError, OSError, Pillow.DecompressionBombError, SyntaxError) as error:
        raise BadImage(f"{what} is not a picture, or it is damaged. PNG, JPEG, WebP and SVG can be shown.") from error
    return Image.model_construct(type=kind, data=data), width, height


def _shown(data: bytes, what: str) -> bytes:
    """An SVG file as a PNG: nothing in it can run, and pictures that it refers to in other files are left out."""
    try:
        return png_of(tostring(safe_root(data, what), encoding="unicode"), SVG_WIDTH)
    except (BadSvg, ValueError) as error:
        raise BadImage(str(error) if isinstance(error, BadSvg) else f"{what} can't be shown.") from error
