"""The cheapest assignment of some to others, where staying alone has a price."""

import numpy as np

from knead.core.geometry.bezier import Floats, Ints


def cheapest(cost: Floats, alone: float) -> tuple[Ints, Ints]:
    """Rows and columns that are paired, rising by row. `cost` has shape (n, m); `alone` is the price of each left over.

    Where every row can have the column it likes best, that is the answer. Else it is a linear assignment problem
    (SciPy, after Jonker and Volgenant 1987); SciPy takes longer to load than most drawings take to pair, so it is
    loaded then only.
    """
    n, m = cost.shape
    wishes = np.argmin(cost, axis=1) if m else np.zeros(0, dtype=np.int64)
    rows = np.flatnonzero(cost.min(axis=1, initial=np.inf) < 2 * alone)
    if len(np.unique(wishes[rows])) == len(rows):
        return rows, wishes[rows]
    from scipy.optimize import linear_sum_assignment

    whole = np.full((n + m, n + m), alone)
    whole[:n, :m] = cost
    whole[n:, m:] = 0.0
    found, partners = linear_sum_assignment(whole)
    real = (found < n) & (partners < m)
    return found[real], partners[real]
