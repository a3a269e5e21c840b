"""SVG out: every shape one path with final coordinates and presentation attributes."""

from collections.abc import Callable, Iterable, Mapping
from xml.sax.saxutils import quoteattr

from knead.core.model import Contour, Drawing, Shape

Attributes = Mapping[str, str | None]


def number(value: float) -> str:
    """A number as short as it can be at a ten-thousandth of a unit."""
    text = f"{value:.4f}".rstrip("0").rstrip(".")
    return "0" if text in {"-0", ""} else text


def path_data(contours: Iterable[Contour]) -> str:
    """The `d` of contours: M, then one C a segment, Z where closed. Equal structures give equal commands."""
    parts = []
    for contour in contours:
        nodes = contour.nodes
        parts.append(f"M{number(nodes[0].at.x)} {number(nodes[0].at.y)}")
        following = [*nodes[1:], nodes[0]] if contour.closed else nodes[1:]
        for node, end in zip(nodes, following, strict=False):
            points = (node.after, end.before, end.at)
            parts.append("C" + " ".join(f"{number(p.x)} {number(p.y)}" for p in points))
        if contour.closed:
            parts.append("Z")
    return "".join(parts)


def shape_attributes(shape: Shape) -> dict[str, str]:
    """Presentation attributes of a shape, `d` first."""
    found = {"d": path_data(shape.contours), "fill": "none"}
    if shape.fill is not None:
        found["fill"] = shape.fill.paint.color
        if shape.fill.paint.opacity < 1:
            found["fill-opacity"] = number(shape.fill.paint.opacity)
        if shape.fill.rule == "evenodd":
            found["fill-rule"] = "evenodd"
    if shape.stroke is not None:
        stroke = shape.stroke
        found["stroke"] = stroke.paint.color
        found["stroke-width"] = number(stroke.width)
        if stroke.paint.opacity < 1:
            found["stroke-opacity"] = number(stroke.paint.opacity)
        found["stroke-linecap"] = stroke.cap
        found["stroke-linejoin"] = stroke.join
        if stroke.join == "miter":
            found["stroke-miterlimit"] = number(stroke.miter_limit)
    if shape.opacity < 1:
        found["opacity"] = number(shape.opacity)
    return found


def path_element(shape: Shape, more: Attributes) -> str:
    """One `<path>`; `more` are further attributes, those that are None left out."""
    pairs = {**{k: v for k, v in more.items() if v is not None}, **shape_attributes(shape)}
    return "<path " + " ".join(f"{name}={quoteattr(value)}" for name, value in pairs.items()) + "/>"


def root_element(
    content: str, width: float, height: float, box: tuple[float, float, float, float] | None = None
) -> str:
    """A whole document around the content; `box` is x, y, width, height of the view in user units."""
    x, y, w, h = box or (0.0, 0.0, width, height)
    view = " ".join(number(v) for v in (x, y, w, h))
    size = f'width="{number(width)}" height="{number(height)}"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size} viewBox="{view}">\n{content}\n</svg>\n'


def drawing_paths(drawing: Drawing, more: Callable[[Shape], Attributes] = lambda _: {}) -> str:
    """The paths of a drawing, one a line, back to front."""
    return "\n".join(path_element(shape, more(shape)) for shape in drawing.shapes)


def scene_content(layers: Iterable[tuple[float, Drawing]]) -> str:
    """Layers from back to front, each with its opacity, as groups of paths."""
    groups = []
    for opacity, drawing in layers:
        faded = "" if opacity >= 1 else f' opacity="{number(opacity)}"'
        groups.append(f"<g{faded}>\n{drawing_paths(drawing)}\n</g>")
    return "\n".join(groups)


def paper_rect(width: float, height: float, color: str) -> str:
    """The paper as a rectangle under everything."""
    return f'<rect width="{number(width)}" height="{number(height)}" fill="{color}"/>'
