"""Each page by itself: refusals in words, no barrier for keyboard and screen reader, nothing wider than the screen."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from browser_helpers import arrive, sign_in

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"

NOBODY = "nobody signed in"
PAGES = {
    NOBODY: [
        ("/sign-in", "Which of these values would you doubt?"),
        ("/welcome#x", "Welcome"),
    ],
    "brandt": [
        ("/", "Lessons"),
        ("/bench", "What is wrong"),
        ("/values?rig=R3&beside=R2", "Ferry shuttle: what sound engines show"),
        ("/values?rig=R5&beside=R1&condition=koeo", "Old fire tender: what sound engines show"),
        ("/atlas?rig=R3", "Atlas"),
        ("/atlas/wideband", "Wideband oxygen sensor"),
        ("/signatures?rig=R2", "What else looks like this"),
        ("/signatures?rig=R3&tab=steps", "Place of a leak against the pressure there"),
        ("/workings?of=three_rulers", "Absolute, vacuum and gauge pressure"),
        ("/drive", "What is wrong"),
        ("/lessons/{lesson}", "What the learner sees"),
        ("/school/rules", "Versions"),
        ("/lessons/{lesson}/results", "A narrowband sensor in the library bus"),
    ],
    "ritter": [
        ("/atlas/false_air?rig=R2", "Air that comes in unseen"),
        ("/atlas/words", "Glossary"),
        ("/", "Your lessons"),
        ("/attempts/{finished}/debrief", "Judge these readings"),
    ],
    "albrecht": [
        ("/school/people", "Add people"),
        ("/school/trail", "Hollerbach District Workshop School"),
    ],
    "vogt": [
        ("/account", "Where you are signed in"),
    ],
    "sommer": [
        ("/attempts/{half}", "Judge these readings"),
    ],
}


def barriers(page: Page, address: str, heading: str) -> list[str]:
    """What keeps people from using a page: in keyboard and screen reader's terms, and what is wider than the screen."""
    page.goto(address)
    expect(page.get_by_role("heading", name=heading).first).to_be_visible()
    page.wait_for_load_state("networkidle")
    for width in (820, 360, 1280):
        page.set_viewport_size({"width": width, "height": 800})
        # What watches its own size follows within a frame or two.
        page.wait_for_function("width => document.documentElement.scrollWidth <= width", arg=width)
    page.evaluate(AXE.read_text(encoding="utf-8"))
    found = page.evaluate("axe.run({runOnly: ['wcag2a', 'wcag2aa'], resultTypes: ['violations']})")
    return [f"{v['id']}: {v['nodes'][0]['html'][:120]}" for v in found["violations"]]


@pytest.mark.parametrize("person", list(PAGES))
def test_the_pages_of_a_person_have_no_barrier_and_fit_their_width(page: Page, person: str) -> None:
    from lessons.models import Lesson
    from practice.models import Attempt

    finished, half = Attempt.objects.get(finished_at__isnull=False), Attempt.objects.get(finished_at__isnull=True)
    ids = {"lesson": Lesson.objects.get().pk, "finished": finished.pk, "half": half.pk}
    if person != NOBODY:
        arrive(page, person, PAGES[person][0][0].format(**ids))
    found = {path: barriers(page, path.format(**ids), heading) for path, heading in PAGES[person]}
    assert {path: what for path, what in found.items() if what} == {}


def test_a_wrong_password_gets_a_sentence_and_keeps_the_name(page: Page) -> None:
    sign_in(page, "brandt", "wrong")
    expect(page.get_by_role("alert")).to_contain_text("Wrong name or password")
    expect(page.get_by_label("Name")).to_have_value("brandt")


def test_a_page_that_asks_for_sign_in_is_shown_after_it(page: Page) -> None:
    page.goto("/drive")
    sign_in(page, "brandt")
    expect(page.get_by_role("heading", name="What is wrong")).to_be_visible()


def test_a_learner_is_led_home_from_pages_that_are_not_theirs(page: Page) -> None:
    sign_in(page, "vogt")
    expect(page.get_by_role("heading", name="Your lessons")).to_be_visible()
    for path in ("lessons/1", "bench", "drive", "school", "school/people"):
        page.goto(f"/{path}")
        expect(page.get_by_role("heading", name="Your lessons")).to_be_visible()
    page.goto("/attempts/999999")
    expect(page.get_by_role("alert")).to_contain_text("There is no such attempt of yours.")
    page.goto("/nowhere/at/all")
    expect(page.get_by_text("There is no page at this address.")).to_be_visible()


def test_the_first_minute_moves_and_answers_without_a_form(page: Page) -> None:
    page.goto("/")
    values = page.get_by_role("group", name="Which of these values would you doubt?")
    first = values.inner_text()
    expect(values).not_to_have_text(first)
    values.get_by_role("button", name="BARO").click()
    expect(page.get_by_text("This is the one; your choice")).to_be_visible()
    told = page.get_by_text("Mean of the half minute:").inner_text()
    values.get_by_role("button", name="ECT").click()
    expect(page.get_by_text("Mean of the half minute:")).to_have_text(told)  # one answer a puzzle
    page.get_by_role("button", name="Another engine").click()
    expect(page.get_by_text("Mean of the half minute:")).to_be_hidden()
