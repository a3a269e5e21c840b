"""The strokes of a key as a net: cut into arms where others end on them, and put together where two just go on."""

from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import groupby, pairwise
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Complexes, Floats, Ints, area, diagonal, path_of
from knead.core.geometry.cutting import at_nodes, piece_of
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import Track, track_of
from knead.core.model import Shape
from knead.core.pairing.chains import Chain, Link, by_hand, chains, ends_of, reach

MANY = 12  # spots of which each is taken otherwise
WIDER = 1.5  # strokes that meet may be farther apart than those that go on in each other, by this
SEEN = np.linspace(0.0, 1.0, 65)  # places at which a line is seen
FINE = np.linspace(0.0, 1.0, 257)  # the same, where it may come by itself
OWN = 0.4  # strokes that meet may be farther apart than a line that ends on itself is from there, by this
APART = 4.0  # how far along the line that is from its ends at least, by the same
ALONG = np.array([0.0, 0.3, 0.7, 1.0])  # its ends, and how far from them an arm shows which way it goes
POINTS = ("Point", "MultiPoint")  # where lines cross; where they run along each other is no place


class Spot(NamedTuple):
    """Where strokes may be cut: which, by their numbers, at which parameters, and whether others end there.

    Those do not just go on in a third.
    """

    place: complex
    cuts: tuple[tuple[int, float], ...]
    ends: bool


@dataclass(frozen=True)
class Net:
    """The strokes of a key as arms. Arm k begins at its end 2 k, and ends at its end 2 k + 1.

    `wholes` are the strokes by their ids. `places` says in which place, where three or more ends meet, each end is: -1
    in none, and `ends` where that is. `ways` are the directions from the ends into the open, `leans` those in which the
    arms go on from there, and a stroke is drawn through each pair in `drawn`.
    """

    wholes: dict[str, Shape]
    arms: tuple[Chain, ...]
    places: Ints
    ends: Complexes
    ways: Complexes
    leans: Complexes
    drawn: frozenset[tuple[int, int]]

    @cached_property
    def meetings(self) -> list[list[int]]:
        """The ends that meet in each place, in their order around it."""
        order = np.argsort(np.angle(self.leans))
        return [order[self.places[order] == place].tolist() for place in sorted(set(self.places.tolist()) - {-1})]

    def winds(self, arm: int) -> float:
        """Which way round an arm goes that ends where it begins, 1 or -1; 0 if it does not."""
        here, there = self.places[2 * arm : 2 * arm + 2].tolist()
        return float(np.sign(area(path_of(self.arms[arm].form.contours[0])))) if here == there >= 0 else 0.0

    @cached_property
    def middles(self) -> Complexes:
        """Where its arms lie, shape (arms,)."""
        return np.array([track_of(arm.form.contours[0]).sketch(SEEN).mean() for arm in self.arms])

    @property
    def degrees(self) -> list[int]:
        """How many ends meet in its places, rising."""
        return sorted(map(len, self.meetings))

    @cached_property
    def pieces(self) -> Counter[str]:
        """Into how many pieces each stroke is cut."""
        return Counter(name for arm in self.arms for name in arm.ids)

    def run(self, ends: Iterable[int]) -> Chain:
        """The line through arms, by the ends at which it enters them; pieces that make a whole stroke are that."""
        links: list[Link] = []
        for end in ends:
            own = self.arms[end // 2].links
            links += [link.turned for link in own[::-1]] if end % 2 else own
        found: list[Link] = []
        for name, group in groupby(links, key=lambda link: link.shape.id):
            row = list(group)
            found += [Link(self.wholes[name], row[0].backwards)] if len(row) == self.pieces[name] else row
        return Chain(tuple(found))

    def straight(self, end: int, other: int) -> float:
        """How straight on it goes from one end to another, -1 to 1."""
        return -float((self.ways[end] * np.conj(self.ways[other])).real)

    def along(self, line: Shape, names: Sequence[str]) -> list[int]:
        """The arms of which a line of strokes is made, in their order along it."""
        own = [k for k, arm in enumerate(self.arms) if set(names).issuperset(arm.ids)]
        path = shapely.LineString(as_points(track_of(line.contours[0]).sketch(SEEN)))
        middles = [track_of(self.arms[k].form.contours[0]).sketch(np.array([0.5])) for k in own]
        return [own[k] for k in np.argsort([path.project(shapely.Point(z.real, z.imag)) for (z,) in middles]).tolist()]


def net_of(strokes: Sequence[Shape]) -> Net:
    """The net of strokes that are cut where others end on them."""
    return _net(strokes, _spots(strokes), None, _slack(strokes))


def nets_of(strokes: Sequence[Shape]) -> list[Net]:
    """The net of strokes, and those with one spot taken otherwise.

    A hand that touches a hip by chance cuts nothing, and where strokes just cross they may be cut, too. Where there are
    many spots, as in a fence, none is.
    """
    spots = _spots(strokes)
    slack = _slack(strokes)
    return [_net(strokes, spots, other, slack) for other in (None, *range(len(spots) if len(spots) <= MANY else 0))]


def nets_as_drawn(strokes: Sequence[Shape]) -> Iterator[Net]:
    """The nets of strokes that are not cut: as lines that go round corners, that go straight on only, and as drawn.

    In the last, two ends make a place.
    """
    last = np.arange(2 * len(strokes)).tolist()
    tracks = [track_of(stroke.contours[0]) for stroke in strokes]
    slack = np.maximum(_slack(strokes), by_hand(tracks, diagonal([track.path for track in tracks])))
    yield _net(strokes, (), None, slack)
    yield _net(strokes, (), None, slack, False)
    yield _net(strokes, (), None, slack, False, last, 2)


def ends_that_meet(strokes: Sequence[Shape]) -> Ints:
    """Numbers of all ends, those that meet have the same, shape (2 strokes,)."""
    ends, slack = ends_of(strokes)[0], np.repeat(_slack(strokes).diagonal(), 2)
    return _labels(np.abs(ends[:, None] - ends) <= np.minimum.outer(slack, slack))


def meetings_of(strokes: Sequence[Shape]) -> list[tuple[complex, set[str]]]:
    """The places where three ends or more meet, if strokes are cut there, and the ids of the strokes that do."""
    spots, ends = _spots(strokes, False), ends_of(strokes)[0]
    slack = np.repeat(_slack(strokes).diagonal(), 2)
    names = np.array([stroke.id for stroke in strokes])
    found = []
    for spot in spots:
        near = np.flatnonzero(np.abs(ends - spot.place) <= slack) // 2
        found.append((spot.place, {*names[near].tolist(), *names[[k for k, _ in spot.cuts]].tolist()}))
    labels = ends_that_meet(strokes)
    for own in [np.flatnonzero(labels == label) for label in np.flatnonzero(np.bincount(labels) > 2)]:
        if not any(np.abs(place - ends[own]).min() <= slack[own].max() for place, _ in found):
            found.append((complex(ends[own].mean()), {*names[own // 2].tolist()}))
    return found


def star_of(strokes: Sequence[Shape], place: complex) -> Net:
    """The net of strokes that are cut at one place alone."""
    slack = float(_slack(strokes).max(initial=0.0))
    near = [spot for spot in _spots(strokes, False) if abs(spot.place - place) <= slack]
    spot = min(near, key=lambda spot: abs(spot.place - place), default=Spot(place, (), True))
    return _net(strokes, [spot._replace(ends=True)], None, _slack(strokes))


def _net(
    strokes: Sequence[Shape],
    spots: Sequence[Spot],
    other: int | None,
    slack: Floats,
    round_corners: bool = True,
    last: Collection[int] = (),
    fewest: int = 3,
) -> Net:
    """The net of strokes that are cut in the spots where others end, but for one spot that is taken otherwise.

    Ends meet that are no farther apart than the `slack` of their strokes. Where just two end, they are one line, if
    need be `round_corners`, but for `last` ends of pieces. Where at least the `fewest` do, that is a place.
    """
    cuts = [cut for k, spot in enumerate(spots) if spot.ends != (k == other) for cut in spot.cuts]
    pieces = [_pieces(stroke, [param for number, param in cuts if number == k]) for k, stroke in enumerate(strokes)]
    atoms = [piece for own in pieces for piece in own]
    of = np.repeat(np.arange(len(strokes)), [len(own) for own in pieces])
    ends, ways = ends_of(atoms)
    owner = of[np.arange(2 * len(atoms)) // 2]
    places = _labels(np.abs(ends[:, None] - ends) <= slack[np.ix_(owner, owner)])
    lengths = np.array([track_of(atom.contours[0]).length for atom in atoms])
    dots = (places[::2] == places[1::2]) & (lengths <= slack.diagonal()[of])  # lines just go on through these
    count = np.bincount(places, minlength=len(places)) - 2 * np.bincount(places[::2][dots], minlength=len(places))
    places = np.where(count[places] >= fewest, places, -1)
    stops = places >= 0
    stops[list(last)] = True
    if other is not None:  # what ends on a stroke goes round no corner there
        stops |= np.abs(ends - spots[other].place) <= slack.diagonal()[owner]
    arms = chains(atoms, round_corners, np.flatnonzero(stops).tolist())
    number = {id(atom): k for k, atom in enumerate(atoms)}
    at = np.array([end for arm in arms for end in _ends(arm, number)], dtype=np.int64)
    end_of = {end: k for k, end in enumerate(at.tolist())}
    drawn = [(e, e + 1) for e in range(1, len(owner) - 1, 2) if owner[e] == owner[e + 1] and places[e] >= 0]
    cut = {stroke.id for stroke, own in zip(strokes, pieces, strict=True) if len(own) > 1}
    marked = [Chain(tuple(link._replace(piece=link.shape.id in cut) for link in arm.links)) for arm in arms]
    wholes = {stroke.id: stroke for stroke in strokes}
    through = frozenset((end_of[a], end_of[b]) for a, b in drawn)
    leans = np.array([lean for arm in arms for lean in _leans(arm)])
    return Net(wholes, tuple(marked), places[at], ends[at], ways[at], leans, through)


def _leans(arm: Chain) -> tuple[complex, complex]:
    """In which directions an arm goes on from its ends, some way along it: a hand may turn off at once."""
    start, soon, late, end = track_of(arm.form.contours[0]).sketch(ALONG).tolist()
    return soon - start, late - end


def _ends(arm: Chain, number: dict[int, int]) -> tuple[int, int]:
    """At which ends of which pieces an arm begins and ends."""
    start, end = arm.links[0], arm.links[-1]
    return 2 * number[id(start.shape)] + start.backwards, 2 * number[id(end.shape)] + (not end.backwards)


def _spots(strokes: Sequence[Shape], crossings: bool = True) -> list[Spot]:
    """Where strokes end on others, or cross them, if that is asked."""
    slack = _slack(strokes)
    tracks = [track_of(stroke.contours[0]) for stroke in strokes]
    lines = np.array([shapely.LineString(as_points(track.sketch(SEEN))) for track in tracks], dtype=object)
    tree = shapely.STRtree(lines)
    number = {id(stroke): k for k, stroke in enumerate(strokes)}
    loose = {end for chain in chains(strokes) for end in _ends(chain, number)}
    ends = ends_of(strokes)[0]
    contacts: list[tuple[complex, int, float, bool]] = []
    far = 2.0 * np.repeat(slack.diagonal(), 2)  # lines are seen roughly
    points = shapely.points(as_points(ends))
    for end, k in zip(*tree.query(points, predicate="dwithin", distance=far).tolist(), strict=True):
        if k != end // 2:
            z = complex(ends[end])
            param, gap = tracks[k].nearest(as_points(ends[end]))
            if gap <= slack[end // 2, k] < np.abs(ends[2 * k : 2 * k + 2] - z).min():
                contacts.append((z, k, param, end in loose))
    for end, z in enumerate(ends.tolist()):
        param = _touches_itself(tracks[end // 2], z, OWN * slack[end // 2, end // 2])
        if param is not None:
            contacts.append((z, end // 2, param, end in loose))
    crossed = tree.query(lines, predicate="crosses").tolist() if crossings else [[], []]
    for i, k in zip(*crossed, strict=True):
        common = lines[i].intersection(lines[k])
        for z in as_complex(shapely.get_coordinates(common)).tolist() if common.geom_type in POINTS else []:
            if np.abs(np.concatenate([ends[2 * i : 2 * i + 2], ends[2 * k : 2 * k + 2]]) - z).min() > slack[i, k]:
                contacts.append((z, k, tracks[k].nearest(as_points(np.array(z)))[0], False))
    return _gathered(contacts, tracks, slack.diagonal())


def _touches_itself(line: Track, z: complex, slack: float) -> float | None:
    """The parameter at which a line comes by one of its ends, as a 6 does, if it comes so near."""
    gaps = np.where(np.minimum(FINE, 1.0 - FINE) * line.length > APART * slack, np.abs(line.sketch(FINE) - z), np.inf)
    share, step = FINE[int(np.argmin(gaps))], FINE[1]
    if gaps.min() > 2.0 * slack:  # lines are seen roughly
        return None
    for _ in range(3):
        grid = share + step * np.linspace(-1.0, 1.0, 21)
        away = np.abs(as_complex(line.points(grid)) - z)
        share, step = grid[int(np.argmin(away))], 0.1 * step
    return float(line.params_at(np.array([share]))[0]) if away.min() <= slack else None


def _gathered(
    contacts: Sequence[tuple[complex, int, float, bool]], tracks: Sequence[Track], slack: Floats
) -> list[Spot]:
    """Contacts that are near each other as one spot, at which a stroke is cut once."""
    z = np.array([contact[0] for contact in contacts])
    reaches = slack[[contact[1] for contact in contacts]] if contacts else np.zeros(0)
    labels = _labels(np.abs(z[:, None] - z) <= np.minimum.outer(reaches, reaches))
    found = []
    for label in sorted(set(labels.tolist())):
        own = [contacts[k] for k in np.flatnonzero(labels == label).tolist()]
        cuts = []
        for k in sorted({contact[1] for contact in own}):
            shares = tracks[k].shares(np.array([param for _, stroke, param, _ in own if stroke == k]))
            (param,) = at_nodes(tracks[k].params_at(shares.mean(keepdims=True))).tolist()
            cuts.append((k, param))
        place = sum(contact[0] for contact in own) / len(own)
        found.append(Spot(place, tuple(cuts), any(contact[3] for contact in own)))
    return found


def _pieces(stroke: Shape, params: Sequence[float]) -> list[Shape]:
    """A stroke, cut at parameters."""
    stops = [0.0, *sorted(params), len(stroke.contours[0].nodes) - 1.0]
    return [piece_of(stroke, *stop) for stop in pairwise(stops)] if params else [stroke]


def _slack(strokes: Sequence[Shape]) -> Floats:
    """How far apart strokes may be that meet, shape (n, n): however long they are, not by much of the whole net."""
    ends = ends_of(strokes)[0]
    size = float(np.abs(ends - ends.sum() / max(len(ends), 1)).max(initial=0.0))
    return np.asarray(WIDER * reach(strokes, size))


def _labels(meet: NDArray[np.bool_]) -> Ints:
    """Numbers that are the same for those that meet, if through others, shape (n,)."""
    label = np.arange(len(meet))
    while True:
        least = np.where(meet, label, len(meet)).min(axis=1, initial=len(meet))
        if np.array_equal(least, label):
            return label
        label = least
