"""What belongs to fills goes with them once it is known what these become: ink, shading, and what is drawn on them."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from knead.core.pairing.assign.assignment import ALONE, Assignment
from knead.core.pairing.assign.belonging import Belonging
from knead.core.pairing.assign.cheapest import cheapest
from knead.core.pairing.assign.rounds import KEPT

ROUNDS = 3  # what lies on what lies on a fill goes with it, too


def with_their_owners(found: Assignment, belonging: Belonging, settled: Sequence[tuple[str, str]]) -> Assignment:
    """The same with what belongs to fills paired anew, where these become something else than was thought.

    `belonging` says what was thought; `settled` are ids of what becomes each other anyway.
    """
    sides = [(sheet.chains, owners) for sheet, owners in zip((found.one, found.two), belonging.owners, strict=True)]
    owned = [np.array([chain.lead.id in owners for chain in chains]) for chains, owners in sides]
    for _ in range(ROUNDS):
        known = replace(belonging, pairs=(*((a.lead.id, b.lead.id) for a, b in found.paired), *settled))
        more = known.price(*(chains for chains, _ in sides)) - belonging.price(*(chains for chains, _ in sides))
        if not more.any():
            break
        belonging, pairs = known, found.pairs
        cost = pairs.cost + more
        stays = np.zeros(cost.shape, dtype=bool)
        stays[pairs.rows, pairs.columns] = ~(owned[0][pairs.rows] & owned[1][pairs.columns])
        stays[pairs.rows, pairs.columns] |= np.isin(pairs.rows, list(found.turning))
        stays[pairs.rows, pairs.columns] |= [found.are_tied(*pair) for pair in found.paired]
        rows, columns = cheapest(cost - KEPT * stays, ALONE)
        anew = replace(pairs, rows=rows, columns=columns, cost=cost)
        found = replace(found, pairs=anew, unlike=found.unlike + more)
    return found
