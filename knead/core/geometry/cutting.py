"""Stretches of a line as lines of their own."""

import numpy as np

from knead.core.geometry.bezier import Floats, contour_of, cut, path_of
from knead.core.model import Shape

AT_NODE = 1e-3  # a cut nearer to a node than this share of a segment is there


def at_nodes(params: Floats) -> Floats:
    """Parameters of cuts, those at a node exactly there."""
    return np.where(np.abs(params - np.round(params)) < AT_NODE, np.round(params), params)


def piece_of(whole: Shape, start: float, end: float) -> Shape:
    """A line from one parameter to another. Its own nodes keep their ids; those at cuts have ids of their own."""
    (contour,) = whole.contours
    own, count = contour.nodes, len(contour.nodes)
    params = np.concatenate([[start], np.arange(np.floor(start) + 1, np.ceil(end)), [end]])
    nodes = [own[int(param) % count] for param in params.tolist()]
    for k in (0, -1):
        if contour.closed or params[k] not in (0.0, count - 1.0):
            nodes[k] = nodes[k].model_copy(update={"id": f"{whole.id}.{start:.6f}.{k % 2}", "kind": "smooth"})
    weights = np.interp(np.mod(params, count), np.arange(count + 1), [node.weight for node in (*own, own[0])])
    piece = contour_of(cut(path_of(contour), params), False, nodes, weights.tolist())
    return whole.model_copy(update={"contours": (piece,)})
