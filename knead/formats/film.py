"""Films: MP4 (H.264) for any player and editor, WebM (VP9) for pages, which may be see-through."""

import io
from collections.abc import Iterable
from fractions import Fraction
from itertools import chain
from typing import Literal

import av
import numpy as np
from numpy.typing import NDArray
from PIL import Image

FilmKind = Literal["mp4", "webm"]
CODECS = {"mp4": "libx264", "webm": "libvpx-vp9"}
# flat colours and sharp edges show every fault: as good as can't be told from the pictures
OPTIONS = {
    "mp4": {"crf": "15", "preset": "medium", "tune": "animation", "movflags": "+faststart"},
    "webm": {"crf": "18", "deadline": "good", "cpu-used": "3", "auto-alt-ref": "0"},
}
BT709, LIMITED = 1, 1  # how colours are written, and said to be


def film(pngs: Iterable[bytes], rate: float, kind: FilmKind, clear: bool) -> bytes:
    """Frames, all of one size, as a film of this many frames a second.

    A `clear` one keeps what is see-through; MP4 can't, and shows black there. Films have even sizes: a picture of an
    odd one is continued by a pixel.
    """
    pictures = map(_pixels, pngs)
    first = next(pictures)
    out = io.BytesIO()
    with av.open(out, "w", format=kind) as container:
        stream = container.add_stream(CODECS[kind], Fraction(rate).limit_denominator(1001), OPTIONS[kind])
        assert isinstance(stream, av.VideoStream)
        stream.height, stream.width = first.shape[:2]
        stream.pix_fmt = "yuva420p" if clear and kind == "webm" else "yuv420p"
        context = stream.codec_context
        context.color_primaries = context.color_trc = context.colorspace = BT709
        context.color_range = LIMITED
        for pixels in chain([first], pictures):
            frame = av.VideoFrame.from_ndarray(pixels, format="rgba")
            container.mux(stream.encode(frame.reformat(format=stream.pix_fmt, dst_colorspace="ITU709")))
        container.mux(stream.encode())
    return out.getvalue()


def _pixels(png: bytes) -> NDArray[np.uint8]:
    pixels = np.asarray(Image.open(io.BytesIO(png)).convert("RGBA"))
    height, width = pixels.shape[:2]
    return np.pad(pixels, ((0, height % 2), (0, width % 2), (0, 0)), mode="edge")
