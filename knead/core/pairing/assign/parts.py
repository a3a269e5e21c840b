"""What is in a part that both keys have stays in it: the near leg and the far leg, though they are alike and cross."""

from collections.abc import Iterable, Sequence

import numpy as np
from numpy.typing import NDArray

from knead.core.model import Drawing, Shape
from knead.core.pairing.assign.likeness import given_name


def in_common_parts(first: Drawing, second: Drawing) -> tuple[Drawing, Drawing]:
    """The drawings with every shape in the innermost part it is in that both have, if any.

    What a tool has counted is no name.
    """
    both = _all_parts(first.shapes) & _all_parts(second.shapes)

    def known(shape: Shape) -> Shape:
        part = next((part for part in _parts(shape)[::-1] if part in both), None)
        return shape if part == shape.part else shape.model_copy(update={"part": part})

    one, two = (side.model_copy(update={"shapes": tuple(map(known, side.shapes))}) for side in (first, second))
    return one, two


def are_elsewhere(one: Sequence[Shape], two: Sequence[Shape]) -> NDArray[np.bool_]:
    """Which are in parts that are not the same, nor one within the other; shape (n, m)."""
    paths = [f"{shape.part}/" if shape.part else "" for shape in (*one, *two)]
    names, which = np.unique(np.array(paths, dtype=str), return_inverse=True)
    apart = np.array([[not (a.startswith(b) or b.startswith(a)) for b in names] for a in names], dtype=bool)
    return np.asarray(apart[np.ix_(which[: len(one)], which[len(one) :])])


def _all_parts(shapes: Iterable[Shape]) -> set[str]:
    return {part for shape in shapes for part in _parts(shape) if given_name(part)}


def _parts(shape: Shape) -> list[str]:
    """The parts a shape is in, outermost first, each by its whole path."""
    return ["/".join(shape.parts[: k + 1]) for k in range(len(shape.parts))]
