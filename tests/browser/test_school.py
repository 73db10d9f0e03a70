"""The school in the browser: a lead adds somebody who signs in by a link, changes a rule that a verdict then prints,
and reads the trail.
"""

import re

from playwright.sync_api import Page, Route, expect

from browser_helpers import sign_in, sign_out
from lessons.models import Lesson

TITLE = "A narrowband sensor in the library bus"


def test_a_new_learner_signs_in_by_the_link_that_the_lead_hands_over(page: Page) -> None:
    sign_in(page, "albrecht")
    page.get_by_role("link", name="School").click()
    page.get_by_label("One person a line").fill("Nina Falk\nJörg Größe, jgroesse")
    expect(page.get_by_text("Sign-in names: falk, jgroesse")).to_be_visible()
    page.get_by_role("button", name="Add 2 people").click()
    link = page.locator("code", has_text="/welcome#").first.inner_text()
    expect(page.get_by_role("row").filter(has_text="Nina Falk")).to_contain_text("a one-time link that is not used yet")
    sign_out(page)

    page.goto(link)
    page.get_by_label("New password").fill("short")
    page.get_by_role("button", name="Set password and sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("too short")
    page.get_by_label("New password").fill("a quite new sentence")
    page.get_by_role("button", name="Set password and sign in").click()
    expect(page.get_by_role("heading", name="Your lessons")).to_be_visible()
    sign_out(page)
    page.goto(link)
    page.get_by_label("New password").fill("another new sentence")
    page.get_by_role("button", name="Set password and sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("This link was used already")

    page.goto("/")
    sign_in(page, "albrecht")
    page.get_by_role("link", name="School").click()
    page.get_by_role("row").filter(has_text="Nina Falk").get_by_role("button", name="Close account").click()
    expect(page.get_by_role("row").filter(has_text="Nina Falk")).to_contain_text("closed; everything of theirs is kept")
    page.get_by_role("link", name="Trail").click()
    expect(page.get_by_role("row").nth(1)).to_contain_text("closed the account of Nina Falk (falk)")


def test_a_changed_rule_is_a_version_and_verdicts_print_it(page: Page) -> None:
    sign_in(page, "albrecht")
    page.get_by_role("link", name="School").click()
    page.get_by_role("link", name="Rules").click()
    page.get_by_label("Fuel trim that needs no search").fill("30")
    page.get_by_role("button", name="Save as version 2").click()
    # The browser's own check of the range speaks first; the server's sentence stands behind it.
    assert page.get_by_label("Fuel trim that needs no search").evaluate("field => field.validity.rangeOverflow")
    page.get_by_label("Fuel trim that needs no search").fill("4")
    page.get_by_label("Why it is changed, and by which source").fill("after the course in May")
    page.get_by_role("button", name="Save as version 2").click()
    expect(page.get_by_role("row").filter(has_text="after the course in May")).to_contain_text(
        "Fuel trim that needs no search: 5 → 4"
    )
    page.get_by_role("link", name="Drives").click()
    page.get_by_role("button", name="Hot idle", exact=True).click()
    page.get_by_role("button", name=re.compile(r"faulty mean.*2\d")).click()
    expect(page.get_by_text("good within ±4 %").first).to_be_visible()


def test_one_ends_ones_other_sessions(page: Page, site: str) -> None:
    sign_in(page, "vogt")
    expect(page.get_by_role("heading", name="Your lessons")).to_be_visible()
    other = page.context.browser.new_context(base_url=site).new_page() if page.context.browser else page
    other.goto("/")
    sign_in(other, "vogt")
    expect(other.get_by_role("heading", name="Your lessons")).to_be_visible()
    page.get_by_role("link", name=re.compile("Lene Vogt")).click()
    expect(page.get_by_role("row")).to_have_count(2)
    page.get_by_role("button", name="End all others").click()
    expect(page.get_by_role("status").filter(has_text="One session was ended.")).to_be_visible()
    other.goto("/account")
    expect(other.get_by_role("heading", name="Which of these values would you doubt?")).to_be_visible()
    other.context.close()


def test_publishing_names_the_station_that_cannot_be_given(page: Page) -> None:
    lesson = Lesson.objects.get()
    reading = {"condition": "decel_fuel_cut", "channel": "lambda_true", "stat": "mean"}
    lesson.draft["stations"].append(
        {"kind": "measure", "id": "cut", "title": "Lambda without fuel", "reading": reading}
    )
    lesson.save()
    sign_in(page, "brandt")
    page.get_by_role("link", name=TITLE).click()
    page.get_by_role("button", name="Publish").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Publish").click()
    expect(dialog.get_by_role("alert")).to_contain_text("Lambda without fuel:")
    expect(dialog.get_by_role("alert")).to_contain_text("is not defined at")


def test_a_long_computation_shows_how_far_it_is_and_can_be_stopped(page: Page) -> None:
    def computing(route: Route) -> None:
        route.fulfill(
            status=202, json={"code": "computing", "message": "34 of 200 engines", "share": 0.17, "retry_after_s": 0.2}
        )

    sign_in(page, "brandt")
    expect(page.get_by_role("heading", name="Lessons")).to_be_visible()
    page.route("**/api/bench/run", computing)
    page.get_by_role("link", name="Drives").click()
    expect(page.get_by_role("status").filter(has_text="34 of 200 engines")).to_be_visible()
    page.get_by_role("button", name="Stop", exact=True).click()
    expect(page.get_by_text("Stopped. Nothing was changed.")).to_be_visible()


def test_a_draft_outlives_a_server_in_trouble_and_says_where_it_is_kept(page: Page) -> None:
    """The first acknowledgement is lost on the way, then the server refuses for a while: the draft arrives once, under
    its author's hand.
    """
    tries: list[str] = []

    def trouble(route: Route) -> None:
        if route.request.method != "PUT":
            route.continue_()
            return
        tries.append(route.request.headers["x-change-id"])
        if len(tries) == 1:
            route.fetch()
            route.abort()
        elif len(tries) < 6:
            route.fulfill(
                status=503, json={"code": "no_database", "message": "The database does not answer at the moment."}
            )
        else:
            route.continue_()

    sign_in(page, "brandt")
    page.get_by_role("link", name=TITLE).click()
    page.route("**/draft", trouble)
    page.get_by_label("Title").fill("Through thick and thin")
    expect(page.get_by_role("status").first).to_contain_text("Kept on this device and sent again automatically")
    expect(page.get_by_role("status").first).to_have_text("Saved")
    assert len(set(tries)) == 1 and len(tries) >= 6
    saved = Lesson.objects.get()
    assert (saved.title, saved.revision) == ("Through thick and thin", 2)
