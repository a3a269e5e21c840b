"""What has no partner: it opens between neighbours that part, and shuts as they meet; or stays where it is."""

import pytest
import shapely

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, PairTravel, Shape, Take
from tests.forms import begun_at, drawing, ellipse, filled, outline, polygon

TIMES = (0.02, 0.25, 0.5, 0.75, 0.98)
CLOSED = drawing(
    filled(polygon([(80, 80), (200, 80), (200, 340), (80, 340)]), color="#aa6633"),
    filled(polygon([(200, 80), (320, 80), (320, 340), (200, 340)]), color="#bb7744"),
)


def box(left: float, top: float, right: float, bottom: float) -> Contour:
    return polygon([(left, top), (right, top), (right, bottom), (left, bottom)])


def parted(*between: Shape) -> Drawing:
    doors = filled(box(20, 80, 120, 340), color="#aa6633"), filled(box(280, 80, 380, 340), color="#bb7744")
    return drawing(*doors, *between)


def area_of(shape: Shape) -> shapely.Polygon:
    return shapely.Polygon(outline(shape.contours[0], 256))


def between(keys: tuple[Drawing, Drawing], color: str, take: Take | None = None) -> list[tuple[Drawing, list[Shape]]]:
    """In-betweens, and what there is of a colour in each."""
    found = plan_span(*keys, take or Take()).over(list(TIMES))
    return [(each, [s for s in each.shapes if s.fill and s.fill.paint.color == color]) for each in found]


@pytest.mark.parametrize("back", [False, True])
@pytest.mark.parametrize("start", [0, 2])
def test_a_room_opens_as_its_doors_part_with_what_is_in_it(back: bool, start: int) -> None:
    room = filled(begun_at(box(120, 80, 280, 340), start), color="#224466")
    moon = filled(ellipse(200, 160, 40, 40), color="#ffdd88")
    keys = CLOSED, parted(room, moon)
    for key, (shape,) in between(keys[::-1] if back else keys, "#224466"):
        left, right = (area_of(door).bounds for door in key.shapes[:2])
        free = shapely.box(left[2], left[1], right[0], right[3])
        assert area_of(shape).symmetric_difference(free).area < 0.02 * free.area + 10
        assert free.buffer(1).covers(area_of(key.shapes[-1])), "the moon is seen in it"


def test_two_slices_open_as_one_gap() -> None:
    above, below = filled(box(100, 120, 300, 200), color="#dd9933"), filled(box(100, 200, 300, 240), color="#cc8822")
    slices = filled(box(100, 160, 300, 200), color="#66bb33"), filled(box(100, 200, 300, 240), color="#773311")
    moved = filled(box(100, 80, 300, 160), color="#dd9933"), filled(box(100, 240, 300, 280), color="#cc8822")
    for key, (shape,) in between((drawing(above, below), drawing(*moved, *slices)), "#66bb33"):
        left, _, right, bottom = area_of(shape).bounds
        assert (left, right) == pytest.approx((100, 300), abs=1)
        assert bottom == pytest.approx(200, abs=1)
        whole = shapely.union_all([area_of(each).buffer(0.2) for each in key.shapes])
        assert isinstance(whole, shapely.Polygon), "nothing is seen between"


def test_a_mouth_whose_edges_the_jaws_hide_is_seen_as_far_as_they_part() -> None:
    def jaws(by: float) -> tuple[Shape, Shape]:
        upper = polygon([(100, 80), (300, 80), (300, 190 - by), (100, 190)])
        return filled(upper, color="#66aa55"), filled(polygon([(100, 190), (300, 190 + by), (300, 300), (100, 300)]))

    mouth = filled(polygon([(110, 120), (280, 120), (280, 280), (110, 260)]), color="#882222")
    for key, (shape,) in between((drawing(*jaws(0)), drawing(mouth, *jaws(60))), "#882222"):
        assert key.shapes[0] == shape, "the jaws lie on it"
        upper, lower = (area_of(jaw) for jaw in key.shapes[1:])
        parted = (
            shapely.box(100, 60, 279, 320)
            .difference(shapely.union(upper, lower))
            .intersection(shapely.convex_hull(shapely.union(upper, lower)))
        )
        assert parted.difference(area_of(shape)).area < 0.05 * parted.area + 5


def test_what_lies_in_a_gap_goes_with_it_though_it_is_nearer_to_a_neighbour() -> None:
    room = filled(box(120, 80, 280, 340), color="#224466")
    plant = filled(polygon([(120, 338), (120, 200), (150, 338)]), color="#228844")
    for key, (shape,) in between((CLOSED, parted(room, plant)), "#228844"):
        door = area_of(key.shapes[0]).bounds[2]
        left, top, _, bottom = area_of(shape).bounds
        assert left == pytest.approx(door, abs=1)
        assert (top, bottom) == pytest.approx((200, 338), abs=4), "it is as high as ever"


def test_what_has_its_own_time_grows_in_it() -> None:
    room = filled(box(120, 80, 280, 340), color="#224466")
    keys = CLOSED, parted(room)
    (lone,) = [pair for pair in plan_span(*keys, Take()).pairs if pair.first_id is None]
    late = Take(travels=(PairTravel(first=None, second=lone.second_id, start=0.5),))
    sizes, doors = (
        [sum(area_of(s).area for s in there) for _, there in between(keys, "#224466", take)] for take in (late, None)
    )
    assert sizes[:3] == [0.0, 0.0, 0.0]
    assert 0.0 < sizes[3] < sizes[4] < doors[4]


def test_dots_far_from_what_becomes_another_thing_stay_in_their_places() -> None:
    frame = filled(box(100, 100, 300, 300), box(120, 120, 280, 280), rule="evenodd")
    dots = [filled(box(x, 100, x + 10, 110), color="#884422") for x in (100, 150, 200, 250, 290)]
    keys = drawing(frame), drawing(filled(box(100, 280, 300, 300)), *dots)
    for _, there in between(keys, "#884422"):
        for dot, drawn in zip(there, dots, strict=True):
            assert area_of(dot).centroid.distance(area_of(drawn).centroid) < 1
