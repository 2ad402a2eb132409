"""The page of a watched sketch, in a real browser, and whatever else may be posted to it."""

from __future__ import annotations

import http.client
import json
import re
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import Browser, Page, expect

from mothseed.chance import Chance
from tests.conftest import WriteSketch
from tests.watch.conftest import Watching

PAGE = """
    from mothseed import artwork, dial

    @artwork(width=60, height=40, paper="#f4efe4")
    def turns(
        sheet, chance, *,
        count=dial(5, 0, 50, help="<b>how</b> many"), reach=dial(0.5, 0.0, 1.0), size=dial(3),
        form=dial("round", choices=["round", "square"]), tint=dial("#c9663d"), big=dial(False),
    ):
        ground = sheet.layer("ground")
        ground.rect(0, 0, 60, 20, fill="#dcd3c0")
        for index in range(count):
            own = chance("spot", index)
            x, y = own.between(0, 60), own.between(0, 40)
            sheet.circle(x, y, (9 if big else 3) * reach, fill=tint if form == "round" else "#1b2a41")
        chance("form").pick(["hawk", "owlet"], label="moth")
"""


@pytest.fixture
def shown(
    browser: Browser, watching: Callable[..., Watching], write_sketch: WriteSketch
) -> Iterator[tuple[Page, str, Path, Watching]]:
    sketch = write_sketch(PAGE, "turns.py")
    watched = watching("turns.py", "--seed", "7", "--page")
    address = watched.until("http://").split()[0]
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    faults: list[str] = []
    page.on("pageerror", lambda fault: faults.append(str(fault)))
    page.on("console", lambda message: faults.append(message.text) if message.type == "error" else None)
    page.on(
        "request", lambda request: None if request.url.startswith((address, "blob:", "data:")) else faults.append(request.url)
    )
    page.goto(address)
    yield page, address, sketch, watched
    assert [fault for fault in faults if "400" not in fault and "net::ERR" not in fault] == []
    page.close()


def test_the_page_turns_dials_leaves_out_layers_and_draws_anew(shown: tuple[Page, str, Path, Watching]) -> None:
    page, _, sketch, _ = shown
    command = page.locator("#command")
    picture = page.locator("#picture")

    def becomes(words: str) -> None:
        expect(command).to_have_text(f"mothseed proof turns.py --seed {words}")

    becomes("7")
    expect(page.locator("#outcomes dd")).to_have_text(["hawk"])
    expect(page.locator("#dials label small").first).to_have_text("<b>how</b> many")
    expect(page.locator("#strip img")).to_have_count(8)
    before = picture.get_attribute("src")
    page.locator("#dial-count").fill("12")
    becomes("7 --set count=12")
    expect(page.locator("#state")).to_contain_text("13 marks")
    assert picture.get_attribute("src") != before
    page.locator("#dial-reach").press("ArrowRight")
    page.locator("#dial-form").select_option("square")
    page.locator("#dial-big").check()
    page.get_by_label("size", exact=True).nth(1).fill("4")
    page.locator("#dial-tint").fill("teal")
    page.locator("#dial-tint").press("Enter")
    becomes("7 --set count=12 --set reach=0.505 --set form=square --set big=on --set size=4 --set tint=teal")
    page.click("#hold")
    expect(page.locator("#held")).to_be_visible()
    expect(page.locator("#held-command")).to_be_hidden()
    page.click("#reset")
    becomes("7")
    page.locator("#layers input").uncheck()
    becomes("7 --without ground")
    page.get_by_label("redraw spot").click()
    becomes("7 --reseed spot=1 --without ground")
    page.get_by_label("redraw spot").click()
    becomes("7 --reseed spot=2 --without ground")
    page.get_by_label("spot as before").click()
    page.locator("body").press("n")
    becomes("8 --without ground")
    page.click("#guides")
    becomes("8 --without ground --guides")
    third = page.locator("#strip button").nth(2)
    expect(third).to_have_accessible_name("seed 11")
    third.click()
    becomes("11 --without ground --guides")
    page.fill("#seed", "lamp")
    page.press("#seed", "Enter")
    becomes("lamp --without ground --guides")
    page.click("#next")
    becomes("lamp-2 --without ground --guides")
    page.click("#back")
    becomes("7 --set count=12 --set reach=0.505 --set form=square --set big=on --set size=4 --set tint=teal")
    page.fill("#seed", "a b")
    page.press("#seed", "Enter")
    expect(page.locator("#state")).to_contain_text("neither a whole number nor a word")
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.click("#copy")
    expect(page.locator("#copy")).to_have_text("copied")
    assert "def turns" in sketch.read_text(), "the artist's file is as it was"
    assert sketch.read_text().count("dial(") == 6


def test_what_is_being_typed_stays_while_a_picture_arrives(shown: tuple[Page, str, Path, Watching]) -> None:
    page, _, _, _ = shown
    command, number = page.locator("#command"), page.get_by_label("count", exact=True)
    page.locator("#dial-count").fill("12")
    number.fill("1")
    expect(command).to_have_text("mothseed proof turns.py --seed 7 --set count=12")
    page.wait_for_timeout(700)  # longer than controls wait before they show what is shown
    expect(number).to_have_value("1")
    expect(command).to_have_text("mothseed proof turns.py --seed 7 --set count=12")
    number.press_sequentially("5")
    number.press("Enter")
    expect(command).to_have_text("mothseed proof turns.py --seed 7 --set count=15")
    page.locator("#dial-count").fill("9")
    expect(number).to_have_value("9")
    expect(command).to_have_text("mothseed proof turns.py --seed 7 --set count=9")


def test_the_page_goes_back_to_what_was_drawn_before(shown: tuple[Page, str, Path, Watching]) -> None:
    page, address, sketch, _ = shown
    earlier = page.locator("#daybook button")
    expect(earlier).to_have_count(1)
    expect(earlier).to_have_text(["1: the first"])
    page.locator("#dial-count").fill("12")
    expect(earlier).to_have_text(["2: count 5 → 12", "1: the first"])
    earlier.nth(1).click()
    expect(page.locator("#state")).to_contain_text("6 marks")
    earlier.nth(0).click()
    expect(page.locator("#state")).to_contain_text("13 marks")
    sketch.write_text(sketch.read_text().replace("9 if big else 3", "9 if big else 4"))
    expect(earlier).to_have_text(["3: turns.py: 1 line changed", "2: count 5 → 12", "1: the first"])
    earlier.nth(2).click()
    expect(page.locator("#held-command")).to_have_text("mothseed daybook turns.py --take-back 1")
    expect(page.locator("#held-picture")).to_have_js_property("naturalWidth", 400)
    expect(page.locator("#back")).to_be_hidden()
    earlier.nth(2).click()
    expect(page.locator("#held")).to_be_hidden()
    for path in ("daybook/9.png", "daybook/x.png"):
        with pytest.raises(urllib.error.HTTPError, match="404"):
            urllib.request.urlopen(address + path)


def test_a_point_of_the_picture_is_explained_and_what_made_it_is_at_hand(shown: tuple[Page, str, Path, Watching]) -> None:
    page, _, sketch, _ = shown
    command, point, picture = page.locator("#command"), page.locator("#point"), page.locator("#picture")
    expect(command).to_contain_text("--seed 7")
    expect(picture).to_be_visible()
    expect(picture).to_have_js_property("complete", True)
    box = picture.bounding_box()
    assert box is not None
    own = Chance(7)("spot", 2)
    x, y = own.between(0, 60), own.between(0, 40)
    picture.click(position={"x": x / 60 * box["width"], "y": y / 40 * box["height"]})
    expect(point.locator("h2")).to_have_text(re.compile(rf"what lies at {x:.0f}\.|what lies at {int(x)}\."))
    expect(point.locator("code")).to_contain_text("sheet.circle(x, y")
    facts = [text.strip() for text in point.locator("dt, dd").all_inner_texts()]
    assert facts[::2] == ["there at all", "place", "size", "fill"]
    assert [fact.split(" (")[0] for fact in facts[1::2]] == [
        "dial count", "spot/2", "dial reach, dial big", "dial form, dial tint",
    ]  # fmt: skip
    expect(page.locator("#point-controls .dial")).to_have_count(5)
    page.locator("#point-reach").press("ArrowRight")
    expect(command).to_contain_text("--set reach=0.505")
    page.locator("#keep-name").fill("dawn")
    page.locator("#keep-name").press("Enter")
    expect(page.locator("#kept")).to_have_text("dawn is kept in turns.settings.toml")
    assert sketch.with_suffix(".settings.toml").read_text() == "[dawn]\nreach = 0.505\n"
    page.locator("#keep-name").fill("two words")
    page.locator("#keep button").click()
    expect(page.locator("#kept")).to_have_text('settings are kept by a word (got "two words")')
    page.locator("#point-controls").get_by_label("redraw spot/2").click()
    expect(command).to_contain_text("--reseed spot/2=1")
    page.keyboard.press("Escape")
    expect(point).to_be_hidden()


def test_the_page_keeps_the_last_good_picture_and_ends_with_the_program(shown: tuple[Page, str, Path, Watching]) -> None:
    page, address, sketch, watched = shown
    expect(page.locator("#state")).to_contain_text("6 marks")
    page.locator("#dial-count").fill("3")
    expect(page.locator("#state")).to_contain_text("4 marks")
    source = sketch.read_text()
    sketch.write_text(source.replace("fill=tint if", "fill=<i>tint if"))
    expect(page.locator("#problem")).to_be_visible()
    expect(page.locator("#where")).to_have_text("turns.py, line 14:")
    assert page.locator("#picture").evaluate("image => image.naturalWidth") == 1000
    sketch.write_text(source.replace("dial(5, 0, 50", "dial(5, 4, 50"))
    expect(page.locator("#problem")).to_be_hidden()
    expect(page.locator("#left-out")).to_contain_text("count=3 is left out: expected a whole number from 4 to 50, got 3")
    expect(page.locator("#state")).to_contain_text("6 marks")

    for wrong, headers, status in (
        (address.rstrip("/")[:-3] + "xxx/", {}, 404),
        (address, {"Host": "elsewhere.example"}, 400),
        (address + "pictures/9999.png", {}, 404),
        (address + "pictures/..%2f..%2fetc%2fpasswd", {}, 404),
    ):
        with pytest.raises(urllib.error.HTTPError) as refused:
            urllib.request.urlopen(urllib.request.Request(wrong, headers=headers))
        assert refused.value.code == status
        refused.value.close()
    assert watched.end() == 0
    expect(page.locator("#state")).to_contain_text("has ended")


GOOD_WISH = {"seed": 3, "dials": {"count": "4"}, "reseeds": {}, "without": [], "guides": False}
POSTED: list[tuple[str | bytes, dict[str, str], int]] = [
    (json.dumps(GOOD_WISH), {}, 204),
    (json.dumps(GOOD_WISH), {"Origin": "http://somewhere.example"}, 403),
    (json.dumps(GOOD_WISH), {"Origin": "null"}, 403),
    (json.dumps(GOOD_WISH), {"Host": "somewhere.example"}, 400),
    ("x" * 1_000_000, {}, 413),
    ("[" * 50_000, {}, 400),
    ("no JSON", {}, 400),
    (json.dumps({**GOOD_WISH, "seed": 10**60}), {}, 204),
    ('{"seed": ' + "9" * 5000 + "}", {}, 400),
    (json.dumps({**GOOD_WISH, "seed": "../../x"}), {}, 400),
    (json.dumps({**GOOD_WISH, "dials": {"tint": "\ud800"}}), {}, 204),
    (json.dumps({**GOOD_WISH, "dials": {"count": "1e999"}}), {}, 204),
    (json.dumps({**GOOD_WISH, "without": ["\ud800"]}), {}, 204),
    (b"\xff\xfe", {}, 400),
]


def test_whatever_is_posted_is_answered_and_the_watch_goes_on(
    watching: Callable[..., Watching], write_sketch: WriteSketch
) -> None:
    write_sketch(PAGE, "turns.py")
    watched = watching("turns.py", "--seed", "7", "--page")
    address = urlsplit(watched.until("http://").split()[0])
    watched.until("seed 7")

    def posted(content: str | bytes, more: dict[str, str], to: str = "wish") -> int:
        line = http.client.HTTPConnection(address.netloc, timeout=60)
        line.request("POST", f"{address.path}{to}", content, more)
        answer = line.getresponse().status
        line.close()
        return answer

    assert [posted(body, headers) for body, headers, _ in POSTED] == [status for _, _, status in POSTED]
    assert posted(json.dumps({**GOOD_WISH, "seed": 12}), {"Origin": f"http://{address.netloc}"}) == 204
    watched.until("seed 12")
    points = [({"across": 0.1, "down": 1}, 200), ({"across": 2, "down": 0.5}, 400), ({"across": "far"}, 400), ([], 400)]
    assert [posted(json.dumps(point), {}, "point") for point, _ in points] == [status for _, status in points]
    assert posted(json.dumps(points[0][0]), {"Origin": "http://elsewhere"}, "point") == 403
    names = [({"name": "dusk"}, 200), ({"name": "../dusk"}, 400), ({"name": 3}, 400), ({}, 400), ([], 400)]
    assert [posted(json.dumps(name), {}, "settings") for name, _ in names] == [status for _, status in names]
    assert posted(json.dumps(names[0][0]), {"Origin": "http://elsewhere"}, "settings") == 403
