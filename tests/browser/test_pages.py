"""Each page by itself: refusals in words, no barrier for keyboard and screen reader, nothing wider than the screen."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from browser_helpers import sign_in

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"

PAGES = [
    ("sign-in", None, "/sign-in", "Which of these values would you doubt?"),
    ("trainer-home", "brandt", "/", "Lessons"),
    ("bench", "brandt", "/bench", "What is wrong"),
    ("values", "brandt", "/values?rig=R3&beside=R2", "Ferry shuttle: what sound engines show"),
    ("atlas", "brandt", "/atlas?rig=R3", "Atlas"),
    ("device", "brandt", "/atlas/wideband", "Wideband oxygen sensor"),
    ("device-learner", "ritter", "/atlas/false_air?rig=R2", "Air that comes in unseen"),
    ("glossary", "ritter", "/atlas/words", "Glossary"),
    ("one-fault", "brandt", "/signatures?rig=R2", "What else looks like this"),
    ("trim-steps", "brandt", "/signatures?rig=R3&tab=steps", "Place of a leak against the pressure there"),
    ("workings", "brandt", "/workings?of=three_rulers", "Absolute, vacuum and gauge pressure"),
    ("drive", "brandt", "/drive", "What is wrong"),
    ("editor", "brandt", "/lessons/{lesson}", "What the learner sees"),
    ("people", "albrecht", "/school/people", "Add people"),
    ("rules", "brandt", "/school/rules", "Versions"),
    ("trail", "albrecht", "/school/trail", "Hollerbach District Workshop School"),
    ("account", "vogt", "/account", "Where you are signed in"),
    ("welcome", None, "/welcome#x", "Welcome"),
    ("results", "brandt", "/lessons/{lesson}/results", "A narrowband sensor in the library bus"),
    ("learner-home", "ritter", "/", "Your lessons"),
    ("debrief", "ritter", "/attempts/{finished}/debrief", "Judge these readings"),
    ("player", "sommer", "/attempts/{half}", "Judge these readings"),
]


@pytest.mark.parametrize(
    ("person", "address", "heading"), [entry[1:] for entry in PAGES], ids=[entry[0] for entry in PAGES]
)
def test_a_page_has_no_barrier_and_fits_its_width(
    page: Page, site: str, person: str | None, address: str, heading: str
) -> None:
    from lessons.models import Lesson
    from practice.models import Attempt

    finished, half = Attempt.objects.get(finished_at__isnull=False), Attempt.objects.get(finished_at__isnull=True)
    if person:
        sign_in(page, person)
        expect(page.get_by_role("button", name="Sign out")).to_be_visible()
    page.goto(site + address.format(lesson=Lesson.objects.get().pk, finished=finished.pk, half=half.pk))
    expect(page.get_by_role("heading", name=heading).first).to_be_visible()
    page.wait_for_load_state("networkidle")
    for width in (820, 360, 1280):
        page.set_viewport_size({"width": width, "height": 800})
        # What watches its own size follows within a frame or two.
        page.wait_for_function("width => document.documentElement.scrollWidth <= width", arg=width)
    page.evaluate(AXE.read_text(encoding="utf-8"))
    found = page.evaluate("axe.run({runOnly: ['wcag2a', 'wcag2aa']})")
    assert [f"{v['id']}: {v['nodes'][0]['html'][:120]}" for v in found["violations"]] == []


def test_a_wrong_password_gets_a_sentence_and_keeps_the_name(page: Page) -> None:
    sign_in(page, "brandt", "wrong")
    expect(page.get_by_role("alert")).to_contain_text("Wrong name or password")
    expect(page.get_by_label("Name")).to_have_value("brandt")


def test_a_page_that_asks_for_sign_in_is_shown_after_it(page: Page, site: str) -> None:
    page.goto(f"{site}/drive")
    sign_in(page, "brandt")
    expect(page.get_by_role("heading", name="What is wrong")).to_be_visible()


def test_a_learner_is_led_home_from_pages_that_are_not_theirs(page: Page, site: str) -> None:
    sign_in(page, "vogt")
    expect(page.get_by_role("heading", name="Your lessons")).to_be_visible()
    for path in ("lessons/1", "bench", "drive", "school", "school/people"):
        page.goto(f"{site}/{path}")
        expect(page.get_by_role("heading", name="Your lessons")).to_be_visible()
    page.goto(f"{site}/attempts/999999")
    expect(page.get_by_role("alert")).to_contain_text("There is no such attempt of yours.")
    page.goto(f"{site}/nowhere/at/all")
    expect(page.get_by_text("There is no page at this address.")).to_be_visible()


def test_the_first_minute_moves_and_answers_without_a_form(page: Page) -> None:
    values = page.get_by_role("group", name="Which of these values would you doubt?")
    first = values.inner_text()
    expect(values).not_to_have_text(first)
    values.get_by_role("button", name="BARO").click()
    expect(page.get_by_text("This one is good. Look again.")).to_be_visible()
