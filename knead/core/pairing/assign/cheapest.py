"""The cheapest assignment of some to others, where staying alone has a price."""

import numpy as np

from knead.core.geometry.bezier import Floats, Ints


def cheapest(cost: Floats, alone: float) -> tuple[Ints, Ints]:
    """Rows and columns that are paired, rising by row. `cost` has shape (n, m); `alone` is the price of each left over.

    Where every row can have the column it likes best, that is the answer. Else it is a linear assignment problem
    (SciPy, after Jonker and Volgenant 1987). SciPy takes longer to load than most drawings take to pair: it is loaded
    then only, and of it what loads quickest.
    """
    n, m = cost.shape
    wishes = np.argmin(cost, axis=1) if m else np.zeros(0, dtype=np.int64)
    rows = np.flatnonzero(cost.min(axis=1, initial=np.inf) < 2 * alone)
    if len(set(wishes[rows].tolist())) == len(rows):
        return rows, wishes[rows]
    from scipy.sparse import csr_array
    from scipy.sparse.csgraph import min_weight_full_bipartite_matching

    # a row is paired for what that costs, or else left alone, and a column with it; no entry may be 0
    own = np.where(np.eye(n, dtype=bool), 1.0 + 2 * alone, 0.0)
    table = np.concatenate([np.where(cost < 2 * alone, 1.0 + cost, 0.0), own], axis=1)
    found, partners = min_weight_full_bipartite_matching(csr_array(table))
    real = partners < m
    return found[real], partners[real]
