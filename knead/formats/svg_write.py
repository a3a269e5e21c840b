"""SVG out: every shape one path with final coordinates and presentation attributes."""

from collections.abc import Callable, Iterable, Mapping
from html import escape
from itertools import takewhile

from knead.core.geometry.bezier import Complexes
from knead.core.geometry.brush import brushed, is_brushed
from knead.core.model import Contour, Drawing, Paint, Shape, Stroke
from knead.formats.svg_paint import dash_attributes, gradient_element, gradient_id, number

Attributes = Mapping[str, str | None]


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


def shape_attributes(shape: Shape) -> list[dict[str, str]]:
    """Presentation attributes of the paths that show a shape, `d` first: one, or two where its width changes."""
    found = {"d": path_data(shape.contours), "fill": "none"}
    if shape.fill is not None:
        found |= _paint("fill", shape.fill.paint)
        if shape.fill.rule == "evenodd":
            found["fill-rule"] = "evenodd"
    faded = {"opacity": number(shape.opacity)} if shape.opacity < 1 else {}
    if shape.stroke is None:
        return [found | faded]
    if is_brushed(shape):
        rings = [ring for contour in shape.contours for ring in brushed(contour, shape.stroke)]
        line = {"d": "".join(map(_ring_data, rings)), **_paint("fill", shape.stroke.paint)}
        return [found | faded, line | faded] if shape.fill is not None else [line | faded]
    return [found | _stroke_attributes(shape, shape.stroke) | faded]


def _stroke_attributes(shape: Shape, stroke: Stroke) -> dict[str, str]:
    found = {
        **_paint("stroke", stroke.paint),
        "stroke-width": number(stroke.width),
        "stroke-linecap": stroke.cap,
        "stroke-linejoin": stroke.join,
    }
    if stroke.join == "miter":
        found["stroke-miterlimit"] = number(stroke.miter_limit)
    return found | dash_attributes(shape)


def _paint(name: str, paint: Paint) -> dict[str, str]:
    value = paint.color if paint.gradient is None else f"url(#{gradient_id(paint.gradient)})"
    return {name: value} | ({f"{name}-opacity": number(paint.opacity)} if paint.opacity < 1 else {})


def _ring_data(ring: Complexes) -> str:
    points = [f"{number(z.real)} {number(z.imag)}" for z in ring.tolist()]
    return f"M{points[0]}L{' '.join(points[1:])}Z"


def gradients_of(shape: Shape) -> dict[str, str]:
    """The gradient elements a shape refers to, by their ids."""
    paints = [part.paint.gradient for part in (shape.fill, shape.stroke) if part is not None]
    return {gradient_id(g): gradient_element(g, gradient_id(g)) for g in paints if g is not None}


def path_elements(shape: Shape, more: Attributes) -> str:
    """A shape's `<path>`, after its gradients if it has any; `more` are further attributes, None ones left out."""
    own = {k: v for k, v in more.items() if v is not None}
    paths = []
    for attributes in shape_attributes(shape):
        pairs = " ".join(f'{name}="{escape(value)}"' for name, value in {**own, **attributes}.items())
        paths.append(f"<path {pairs}/>")
    gradients = "".join(gradients_of(shape).values())
    return (f"<defs>{gradients}</defs>" if gradients else "") + "".join(paths)


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
    return "\n".join(path_elements(shape, more(shape)) for shape in drawing.shapes)


def scene_content(layers: Iterable[tuple[str, float, Drawing]]) -> str:
    """Layers from back to front, each with its name and opacity, as groups of paths; their parts are groups in them."""
    groups = []
    for name, opacity, drawing in layers:
        faded = "" if opacity >= 1 else f' opacity="{number(opacity)}"'
        groups.append(f"<g {_named(name)}{faded}>\n{_in_parts(drawing)}\n</g>")
    return "\n".join(groups)


def _in_parts(drawing: Drawing) -> str:
    """The paths of a drawing, back to front, and groups around those of a part that follow each other."""
    lines, within = list[str](), list[str]()
    for shape in drawing.shapes:
        kept = len(list(takewhile(lambda pair: pair[0] == pair[1], zip(within, shape.parts, strict=False))))
        lines += ["</g>"] * (len(within) - kept) + [f"<g {_named(part)}>" for part in shape.parts[kept:]]
        lines.append(path_elements(shape, {"data-name": shape.name}))
        within = shape.parts
    return "\n".join(lines + ["</g>"] * len(within))


def _named(name: str) -> str:
    return f'data-name="{escape(name)}"'


def paper_rect(width: float, height: float, color: str) -> str:
    """The paper as a rectangle under everything."""
    return f'<rect width="{number(width)}" height="{number(height)}" fill="{color}"/>'
