"""Guiding a span in the real interface: proposals, the balance, snags, and how one pair goes."""

import httpx

from tests.browser.screen import Screen

PROPOSAL = "[data-testid=proposal]"
HINTS = "[data-testid=hint-row]"
ESCAPE = "\ue00c"
OUTLINE = (
    "return [...document.querySelectorAll('[data-testid=stage] [data-shape]')].map(p => p.getAttribute('d')).join()"
)


def revision(screen: Screen, scene: str) -> int:
    number: int = httpx.get(f"{screen.address}/api/scenes/{scene}").json()["revision"]
    return number


def tie_the_tail(screen: Screen) -> None:
    """Open Match and tie a point of the tail."""
    screen.keys("2")
    tail = f"[data-testid=match-first] [data-shape='{screen.shape_id('tail')}']"
    for _ in range(2):
        screen.click_at(screen.on_outline(tail, 0.3))
    screen.until(lambda: screen.all(HINTS))
    screen.saved()


def test_proposed_hints_are_ghosts_with_their_gain_and_can_be_tied(screen: Screen) -> None:
    screen.keys("2")
    screen.press("Propose hints")
    offers = screen.until(lambda: screen.all(PROPOSAL))
    assert 1 <= len(offers) <= 4
    assert all("% less distortion" in offer.text for offer in offers)
    before = screen.cards()
    screen.press("Tie all")
    screen.until(lambda: len(screen.all(HINTS)) == len(offers))
    screen.until(lambda: screen.cards() != before)
    screen.until(lambda: "better" in screen.text("[data-testid=balance]"))


def test_the_balance_says_that_a_hint_made_it_worse_and_takes_it_back(screen: Screen) -> None:
    tie_the_tail(screen)
    kept = screen.cards()
    end = screen.middle("[data-testid=match-second] [data-hint]")
    screen.drag(end, (end[0] - 40, end[1] + 4), (end[0] - 110, end[1] + 10))
    screen.until(lambda: "worse" in screen.text("[data-testid=balance]"))
    screen.until(lambda: screen.cards() != kept)
    screen.press("Take it back")
    screen.until(lambda: screen.cards() == kept)


def test_a_hint_that_is_held_is_weighed_and_escape_takes_it_back(screen: Screen, pond: str) -> None:
    tie_the_tail(screen)
    kept, head = screen.cards(), revision(screen, pond)
    end = screen.middle("[data-testid=match-second] [data-hint]")
    screen.drag(end, (end[0] - 40, end[1] + 4), (end[0] - 110, end[1] + 10), release=False)
    screen.until(lambda: "worse" in screen.text("[data-testid=balance]"))
    screen.until(lambda: screen.cards() != kept)
    screen.keys(ESCAPE)
    screen.until(lambda: screen.cards() == kept)
    screen.let_go()
    screen.keys("1", "s")
    screen.click_at(screen.on_outline(f"[data-testid=stage] [data-shape='{screen.shape_id('body')}']", 0.2))
    point = screen.middle("[data-node]")
    outline = screen.script(OUTLINE)
    screen.drag(point, (point[0] + 30, point[1] - 20), release=False)
    screen.until(lambda: screen.script(OUTLINE) != outline)
    screen.keys(ESCAPE)
    screen.until(lambda: screen.script(OUTLINE) == outline)
    screen.let_go()
    screen.saved()
    assert screen.all("[data-node]"), "the shape is still chosen"
    assert revision(screen, pond) == head


def test_a_hint_says_where_a_shape_without_a_partner_grows(screen: Screen) -> None:
    screen.keys("2")
    foot = f"[data-testid=match-second] [data-shape='{screen.shape_id('foot', 'second')}']"
    before = screen.until(screen.cards)
    for _ in range(2):
        screen.click_at(screen.on_outline(foot, 0.0))
    screen.until(lambda: screen.all(HINTS))
    screen.saved()
    end = screen.middle("[data-testid=match-first] [data-hint]")
    tail = screen.on_outline(f"[data-testid=match-first] [data-shape='{screen.shape_id('tail')}']", 0.3)
    screen.drag(end, (end[0] + 20, end[1] + 5), tail)
    screen.saved()
    screen.until(lambda: screen.cards()[4] != before[4])
    screen.click_at(screen.on_outline(foot, 0.0))
    screen.until(lambda: "a hint says where it grows" in screen.text("[data-testid=pair-row][aria-selected=true]"))


def test_a_snag_is_listed_marked_on_its_card_and_a_click_goes_there(screen: Screen) -> None:
    screen.keys("2")
    tail = f"[data-testid=match-first] [data-shape='{screen.shape_id('tail')}']"
    for share in (0.3, 0.3, 0.7):
        screen.click_at(screen.on_outline(tail, share))
        screen.saved()
    screen.until(lambda: len(screen.all(HINTS)) == 2)
    ends = [screen.middle("[data-testid=match-second] [data-hint]", k) for k in (0, 1)]
    screen.drag(ends[0], ends[1], (ends[1][0], ends[1][1] + 2))
    snag = screen.until(lambda: screen.all("[data-testid=snag]"))[0]
    screen.one("[data-testid=card] [title^='A snag']")
    snag.click()
    screen.until(lambda: screen.all("[data-testid=snag-mark]"))
    assert screen.frame() > 1


def test_one_pair_goes_its_own_way(screen: Screen) -> None:
    screen.keys("3")
    before = screen.until(screen.cards)
    trail = "document.querySelector('[data-trail]')"
    screen.script(f"{trail}.dispatchEvent(new PointerEvent('pointerdown', {{bubbles: true}}))")
    screen.press("Draw a path")
    screen.until(lambda: screen.cards()[6] != before[6])
    handle = screen.middle("[data-path-knob]")
    bent = screen.cards()
    screen.drag(handle, (handle[0], handle[1] - 30), (handle[0] + 10, handle[1] - 60))
    screen.until(lambda: screen.cards()[6] != bent[6])
    assert (screen.cards()[0], screen.cards()[-1]) == (before[0], before[-1]), "the keys stay as they are"
    screen.press("Remove the path")
    screen.until(lambda: screen.cards() == before)


def test_a_closer_fit_is_told_in_nodes(screen: Screen) -> None:
    screen.keys("3")

    def nodes() -> int:
        return int(screen.text("[data-testid=fit-nodes]").split()[0])

    plain = screen.until(nodes)
    slider = "[aria-label='How closely in-betweens are fitted']"
    for key, fits in (("\ue010", lambda: nodes() > plain), ("\ue011", lambda: nodes() <= plain)):
        screen.script("arguments[0].focus()", screen.one(slider))
        screen.keys(key)
        screen.until(fits)
    screen.saved()
