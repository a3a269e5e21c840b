"""What is tied among the parameters at which two outlines meet: how far it is off, and the rows with it.

Rows are parameters of both outlines that meet, shape (k, 2), of the second as it is run: `backwards`, if so. Ties are
shares of both, shape (ties, 2).
"""

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import Track
from knead.core.outline.directions import backwards_ties

AT_ROW = 1e-6  # what is nearer than this, as a parameter, to where outlines meet is there


def misses(one: Track, two: Track, rows: Floats, ties: Floats, backwards: bool) -> Floats:
    """How far from where they are tied places come to lie, by the length of the second outline, shape (ties,).

    Between two rows of parameters, what meets does so by its parameter.
    """
    own = _params_of(one, two, rows, ties, backwards)
    goes = np.interp(own[:, 0], *rows.T)
    second = two.backwards if backwards else two
    gaps = second.shares(goes) - second.shares(own[:, 1])
    return np.abs(np.mod(gaps + 0.5, 1.0) - 0.5 if two.closed else gaps)


def _params_of(one: Track, two: Track, rows: Floats, ties: Floats, backwards: bool) -> Floats:
    """Where ties are on both outlines, as parameters of the rows, shape (ties, 2)."""
    if backwards:
        two, ties = two.backwards, backwards_ties(ties, two.closed)
    own = np.stack([one.params_at(ties[:, 0]), two.params_at(ties[:, 1])], axis=1)
    # what is a hair before where both begin is there, not a round farther on
    onward = np.mod(own - rows[0] + AT_ROW, [len(one.path), len(two.path)]) - AT_ROW
    return np.asarray(rows[0] + onward if one.closed else own)


def with_ties(one: Track, two: Track, rows: Floats, ties: Floats, backwards: bool) -> Floats | None:
    """The rows of parameters that meet, with what is tied among them, and meets there anyway; None if they cross."""
    own = _params_of(one, two, rows, ties, backwards)
    there = np.abs(own[:, None] - rows).max(axis=2).min(axis=1, initial=np.inf) < AT_ROW
    every = np.concatenate([rows, own[~there]])
    every = every[np.argsort(every[:, 0], kind="stable")]
    return every if np.all(np.diff(every[:, 1]) >= 0.0) else None
