"""Takes the pictures of docs/screenshots from the demo data: ./leitfaden pictures.

Not part of the tests; look at what it makes.
"""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from browser_helpers import pick, sign_in, sign_out
from lessons.models import Lesson
from practice.models import Attempt


@pytest.fixture
def with_course() -> bool:
    return True


TITLE = "A narrowband sensor in the library bus"
FOLDER = Path(__file__).parents[2] / "docs" / "screenshots"


def take(page: Page, name: str) -> None:
    page.wait_for_load_state("networkidle")
    # Canvases and moving traces draw a frame later than the network is quiet.
    page.wait_for_timeout(600)
    page.evaluate("window.scrollTo(0, 0)")
    page.screenshot(path=FOLDER / f"{name}.png")


def bench_pictures(page: Page, site: str) -> None:
    """The running bench: a leak opened by hand, instruments, before a class."""
    page.goto(f"{site}/bench")
    page.get_by_role("button", name=re.compile("^MAF")).click()
    page.wait_for_timeout(9000)  # the sound engine has run for a while
    pick(page, "Break it now …", "Air leak behind the throttle")
    opening = page.get_by_role("spinbutton", name="opening")
    for size in ("1", "2", "4"):
        opening.fill(size)
        opening.press("Tab")
        page.wait_for_timeout(4000)  # the trims take their time
    page.wait_for_timeout(6000)
    page.screenshot(path=FOLDER / "bench.png")
    page.get_by_label("Dark look").click()
    page.get_by_role("button", name="Project", exact=True).click()
    page.wait_for_timeout(1500)
    page.screenshot(path=FOLDER / "bench-projected.png")
    page.get_by_role("button", name="End projection").click()
    page.get_by_label("Dark look").click()
    pick(page, "Engine", "Greenhouse van")
    page.get_by_role("button", name=re.compile("^MAP")).click()
    page.wait_for_timeout(12_000)
    for tool in ("hand pump", "multimeter"):
        pick(page, "Take an instrument …", tool)
    for slip in ("multimeter", "hand pump"):
        page.get_by_role("article", name=slip).get_by_role("button", name="Read", exact=True).click()
        expect(page.get_by_role("article", name=slip).locator("dd .value").first).to_be_visible()
    page.get_by_role("article", name="multimeter").scroll_into_view_if_needed()
    page.wait_for_timeout(1000)
    page.screenshot(path=FOLDER / "bench-slips.png")


def atlas_pictures(page: Page, site: str) -> None:
    """A device in the hand, a fault with its look-alikes."""
    page.goto(f"{site}/atlas/narrowband?rig=R1")
    page.get_by_role("button", name="1 Rich").click()
    expect(page.get_by_test_id("seen-pin")).to_be_visible()
    page.wait_for_timeout(800)
    page.locator("#drawings").evaluate("part => part.scrollIntoView()")
    page.screenshot(path=FOLDER / "atlas.png")
    page.goto(f"{site}/signatures?rig=R1&kind=maf_under_read")
    expect(page.get_by_role("heading", name="What else looks like this")).to_be_visible()
    take(page, "faults")


def test_pictures(page: Page, site: str) -> None:
    lesson, finished, half = (
        Lesson.objects.get(title=TITLE).pk,
        Attempt.objects.get(finished_at__isnull=False),
        Attempt.objects.get(finished_at__isnull=True),
    )
    page.goto("/")
    page.wait_for_timeout(12_000)  # the engine of the start page has run for a while
    page.get_by_role("button", name="IAT").click()
    take(page, "start")

    sign_in(page, "brandt")
    expect(page.get_by_role("heading", name="Lessons")).to_be_visible()
    take(page, "home-trainer")
    page.goto(f"{site}/plan")
    page.get_by_role("button", name=re.compile("A meter wrong by one factor")).click()
    page.get_by_role("button", name="Propose", exact=True).click()
    expect(page.get_by_test_id("proposed")).to_be_visible()
    take(page, "plan")
    page.goto(f"{site}/drills")
    pick(page, "Out of a lesson: its faults and the causes that it offers", TITLE)
    page.get_by_role("button", name="Start").click()
    said = page.get_by_role("button", name=re.compile("^(faulty|the first)$"))
    said.click()
    page.get_by_role("button", name="likely", exact=True).click()
    expect(page.get_by_role("button", name="Next item")).to_be_visible()
    take(page, "drill")
    bench_pictures(page, site)
    page.goto(f"{site}/values?rig=R1&beside=R2")
    height = page.get_by_role("slider", name="Height")
    height.focus()
    for _ in range(2):
        height.press("PageUp")
    expect(page.get_by_text("Estimated.", exact=True)).to_be_visible()
    page.get_by_role("button", name="MAF", exact=True).click()
    take(page, "values")
    page.goto(f"{site}/workings?of=volumetric_efficiency")
    page.get_by_text("Take the numbers from an engine").click()
    page.get_by_role("button", name="Take what this engine shows").click()
    expect(page.get_by_text("Usual for older designs")).to_be_visible()
    page.get_by_text("Take the numbers from an engine").click()
    take(page, "workings")
    page.goto(f"{site}/drive")
    page.get_by_role("button", name="Hot idle", exact=True).click()
    take(page, "drive")
    atlas_pictures(page, site)
    page.goto(f"{site}/lessons/{lesson}")
    expect(page.get_by_test_id("reading-maf")).to_be_visible()
    take(page, "editor")
    page.goto(f"{site}/lessons/{lesson}/results")
    take(page, "results")
    sign_out(page)

    sign_in(page, "albrecht")
    page.get_by_role("link", name="School").click()
    page.get_by_label("One person a line").fill("Nina Falk\nJörg Größe, jgroesse")
    expect(page.get_by_text("Sign-in names: falk, jgroesse")).to_be_visible()
    take(page, "school-people")
    sign_out(page)

    sign_in(page, "ritter")
    expect(page.get_by_role("heading", name="Your lessons")).to_be_visible()
    page.goto(f"{site}/attempts/{finished.pk}/debrief")
    expect(page.get_by_role("heading", name="Judge these readings")).to_be_visible()
    take(page, "debrief")
    sign_out(page)

    sign_in(page, "sommer")
    expect(page.get_by_role("heading", name="Your lessons")).to_be_visible()
    for knot, name in (
        ("What the sensor compares", "explain"),
        ("The bus on the roller bench", "show"),
        ("Judge these readings", "judge"),
    ):
        page.goto(f"{site}/attempts/{half.pk}")
        page.get_by_role("button", name=knot).click()
        expect(page.get_by_role("heading", name=knot, level=2)).to_be_visible()
        if name == "judge":
            page.get_by_test_id("row-0").get_by_role("radio", name="good").locator("xpath=..").click()
            page.get_by_test_id("row-1").get_by_role("radio", name="faulty").locator("xpath=..").click()
        take(page, f"player-{name}")
