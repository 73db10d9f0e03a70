"""Whole journeys: a trainer makes a lesson harder and publishes it, a learner works through it, both see what was right
and why.
"""

import re
from typing import Any

from playwright.sync_api import Page, Route, expect

from browser_helpers import arrive, offered, pick, sign_in, sign_out
from drills.models import Trial
from lessons.models import Lesson
from people.models import User
from practice.items import prepare_station
from practice.models import Attempt, Entry, ItemKey

TITLE = "A narrowband sensor in the library bus"
GO_ON = "Save and continue"


def key_of(attempt: Attempt, index: int) -> list[dict[str, Any]]:
    prepare_station(attempt.assignment_id, index)
    return list(ItemKey.objects.get(assignment=attempt.assignment_id, station=index).parts["metric"])


def test_from_a_changed_fault_to_the_debrief(page: Page) -> None:
    # The trainer changes fault and size; what the learner will see and the key follow at once.
    arrive(page, "brandt")
    page.get_by_role("link", name=TITLE).click()
    trim = page.get_by_test_id("reading-total_trim")
    expect(trim).to_be_visible()
    before = trim.inner_text()
    page.get_by_role("button", name="large 4").click()
    expect(trim).not_to_have_text(before)
    pick(page, "What is wrong", "Airflow meter reads too low")
    page.get_by_role("button", name="large 0.75").click()
    page.get_by_label("Title").fill("A meter in the library bus")
    expect(page.get_by_role("status")).to_have_text("Saved")
    page.get_by_role("button", name="Conclude Which cause explains all readings?").click()
    expect(page.get_by_text("built into the car")).to_contain_text("Airflow meter reads too low", timeout=120_000)
    # What is chosen in a list that is searched stays readable: the field over it is clear, in whatever form it stands.
    for field in page.locator("input.el-select__input").all():
        expect(field).to_have_css("background-color", "rgba(0, 0, 0, 0)")
    page.get_by_role("button", name="Publish").click()
    dialog = page.get_by_role("dialog")
    for name in ("Mira Ritter", "Emil Sommer", "Lene Vogt"):
        dialog.get_by_label(name).uncheck()
    dialog.get_by_role("button", name="Publish").click()
    expect(page.get_by_text("Version 2 is published and given to one learner.")).to_be_visible()
    sign_out(page)

    # The learner works through it.
    sign_in(page, "weiss")
    page.get_by_role("article").filter(has_text="A meter in the library bus").get_by_role(
        "button", name="Start"
    ).click()
    expect(page.get_by_role("heading", name="What the sensor compares")).to_be_visible()
    expect(page.get_by_text("Run engines only with exhaust extraction")).to_be_visible()
    page.get_by_role("button", name=GO_ON).click()
    expect(page.get_by_role("heading", name="The bus on the roller bench")).to_be_visible()
    expect(page.get_by_test_id("reading-maf")).to_be_visible()
    held: list[Route] = []
    page.route("**/stations/2/lanes", lambda route: held.append(route))
    page.get_by_role("button", name=GO_ON).click()

    attempt = Attempt.objects.get(assignment__learner__username="weiss", assignment__version__number=2)
    value = key_of(attempt, 2)[0]["value"]
    page.get_by_label("Your reading, with its unit").fill(f"{value:.0f}")
    # Lanes that come late have their place: the button stays under the finger.
    stood = page.get_by_role("button", name=GO_ON).bounding_box()
    assert stood is not None and held
    held[-1].continue_()
    expect(page.get_by_test_id("reading-total_trim")).to_be_visible()
    stands = page.get_by_role("button", name=GO_ON).bounding_box()
    assert stands is not None and abs(stands["y"] - stood["y"]) < 6.0
    page.get_by_role("button", name=GO_ON).click()
    expect(page.get_by_role("alert").last).to_contain_text(f"The unit is missing: {value:.0f} of what?")
    expect(page.get_by_label("Your reading, with its unit")).to_have_value(f"{value:.0f}")
    page.get_by_label("Your reading, with its unit").fill(f"{value:.0f} %")
    page.get_by_role("button", name=GO_ON).click()

    expect(page.get_by_role("heading", name="Judge these readings", level=2)).to_be_visible()
    page.get_by_role("button", name=GO_ON).click()
    expect(page.get_by_role("alert").last).to_contain_text("A verdict is missing")
    words = {"good": "good", "suspect": "suspect", "faulty": "faulty", "not_decidable": "not decidable here"}
    for k, part in enumerate(key_of(attempt, 3)):
        page.get_by_test_id(f"row-{k}").get_by_role("radio", name=words[part["verdict"]]).locator("xpath=..").click()
    page.get_by_role("button", name=GO_ON).click()
    right = next(part["label"] for part in key_of(attempt, 4) if part["true_cause"])
    page.get_by_role("radio", name=right).check()
    page.get_by_role("button", name="Save and finish").click()

    expect(page.get_by_text("What was wrong")).to_be_visible()
    expect(page.get_by_text("Airflow meter reads too low (reads 75 % of true flow)")).to_be_visible()
    expect(page.get_by_text("Volumetric efficiency at full load too low")).to_be_visible()
    expect(page.get_by_text("100 %").first).to_be_visible()
    # For an appeal: a station exactly as it was seen, lanes and answer included.
    page.get_by_role("button", name="Show what was seen").first.click()
    expect(page.get_by_test_id("seen").get_by_label("Your reading, with its unit")).to_have_value(f"{value:.0f} %")
    expect(page.get_by_test_id("seen").get_by_test_id("reading-total_trim")).to_be_visible()
    sign_out(page)

    # The trainer sees the result and the same debrief.
    sign_in(page, "brandt")
    page.get_by_role("row").filter(has_text="A meter in the library bus").get_by_role("link", name="Results").click()
    row = page.get_by_role("row").filter(has_text="Tarik Weiss").filter(has_text="finished")
    expect(row).to_contain_text("100 %")
    row.get_by_role("link", name="Debrief").click()
    expect(page.get_by_text("Airflow meter reads too low (reads 75 % of true flow)")).to_be_visible()


def test_a_lost_server_and_a_closed_page_lose_nothing(page: Page) -> None:
    arrive(page, "sommer")
    page.get_by_role("button", name="Go on").click()
    expect(page.get_by_role("heading", name="Judge these readings", level=2)).to_be_visible()
    for k in range(6):
        page.get_by_test_id(f"row-{k}").get_by_role("radio", name="suspect").locator("xpath=..").click()
    page.context.set_offline(True)
    page.get_by_role("button", name=GO_ON).click()
    expect(page.get_by_role("alert")).to_contain_text(
        "The server does not answer. What you have entered is kept on this device"
    )
    page.context.set_offline(False)
    page.reload()
    expect(page.get_by_test_id("row-5").get_by_role("radio", name="suspect")).to_be_checked()
    stored = Entry.objects.filter(attempt__assignment__learner__username="sommer", station=3)
    assert not stored.exists()
    page.get_by_role("button", name=GO_ON).click()
    expect(page.get_by_role("heading", name="Which cause explains all readings?", level=2)).to_be_visible()
    assert stored.get().answer == {"kind": "judge", "verdicts": ["suspect"] * 6}
    page.goto(page.url)
    expect(page.get_by_role("heading", name="Which cause explains all readings?", level=2)).to_be_visible()


def test_a_station_may_have_an_engine_of_its_own(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name=TITLE).click()
    pick(page, "Add station", "Measure")
    key = page.locator(".key")
    expect(key.get_by_text("faulty")).to_be_visible()
    page.get_by_label("Another engine, drive or fault at this station").check()
    pick(page, "Engine", "Old fire tender")
    page.get_by_role("button", name="Remove", exact=True).click()
    expect(key.get_by_text("good")).to_be_visible()
    expect(page.get_by_role("status")).to_have_text("Saved")
    page.get_by_role("button", name="Car and faults").click()
    expect(page.get_by_role("combobox", name="Engine", exact=True)).to_be_visible()
    expect(page.get_by_text("Library bus").first).to_be_visible()


def test_a_draft_with_a_size_out_of_range_is_kept_on_the_screen_and_explained(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name=TITLE).click()
    size = page.get_by_role("spinbutton", name="opening")
    size.fill("900")
    size.press("Tab")
    expect(page.get_by_role("alert").first).to_contain_text("opening is 900 mm²; allowed is 0.1 to 200 mm²")
    expect(page.get_by_role("status")).to_contain_text("Not on the server yet")
    page.reload()
    expect(page.get_by_role("spinbutton", name="opening")).to_have_value("900")
    page.get_by_role("spinbutton", name="opening").fill("3")
    page.get_by_role("spinbutton", name="opening").press("Tab")
    expect(page.get_by_role("status")).to_have_text("Saved")


def test_a_new_lesson_grows_station_by_station(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("button", name="New lesson").click()
    expect(page.get_by_test_id("reading-maf")).to_be_visible()
    for kind in ("Judge", "Conclude"):
        pick(page, "Add station", kind)
        expect(page.get_by_role("heading", name=kind, exact=True)).to_be_visible()
    page.get_by_role("button", name="Move up").click()
    page.get_by_role("button", name="Delete station").click()
    page.get_by_role("button", name="Undo", exact=True).click()
    thread = page.get_by_role("navigation", name="Stations").get_by_role("button")
    expect(thread.filter(has_text="Conclude")).to_have_count(1)
    expect(page.get_by_role("status")).to_have_text("Saved")
    page.reload()
    expect(thread.filter(has_text="Judge")).to_have_count(1)
    # What was done before the reload can still be undone: the move, then the station itself.
    page.get_by_role("button", name="Undo", exact=True).click()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(thread.filter(has_text="Conclude")).to_have_count(0)
    page.get_by_role("button", name="Redo", exact=True).click()
    expect(thread.filter(has_text="Conclude")).to_have_count(1)


def test_two_people_in_one_draft_lose_nothing(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name=TITLE).click()
    thread = page.get_by_role("navigation", name="Stations")
    thread.get_by_role("button", name=re.compile("^Show")).click()
    expect(page.get_by_label("Title")).to_have_value("The bus on the roller bench")

    def colleague_writes(**texts: str) -> None:
        lesson = Lesson.objects.get()
        for station in lesson.draft["stations"]:
            station["title"] = texts.get(station["id"].replace("-", "_"), station["title"])
        lesson.revision += 1
        lesson.updated_by = User.objects.get(username="albrecht")
        lesson.save()

    colleague_writes(one_cause="By the colleague")
    page.get_by_label("Title").fill("By me")
    expect(
        page.get_by_text("Marit Albrecht has changed this lesson meanwhile; both changes are in it now.")
    ).to_be_visible()
    expect(page.get_by_role("status").first).to_have_text("Saved")
    titles = {station["title"] for station in Lesson.objects.get().draft["stations"]}
    assert {"By me", "By the colleague"} <= titles

    colleague_writes(the_complaint="Not by me")
    page.get_by_label("Title").fill("Again by me")
    clash = page.get_by_role("alert").filter(has_text="has changed the same parts")
    clash.get_by_role("button", name="Take theirs").click()
    expect(page.get_by_label("Title")).to_have_value("Not by me")
    expect(page.get_by_role("status").first).to_have_text("Saved")
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_label("Title")).to_have_value("Again by me")


def test_versions_are_compared_and_words_left_for_a_colleague(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name=TITLE).click()
    page.get_by_role("navigation", name="Stations").get_by_role("button", name=re.compile("^Judge")).click()
    page.get_by_label("Title").fill("Judge what you see")
    page.get_by_label("A word for a colleague").fill("Is the pool too small?")
    page.get_by_role("button", name="+ Add", exact=True).click()
    expect(page.get_by_text("Jonas Brandt,")).to_be_visible()
    expect(page.get_by_role("status").first).to_have_text("Saved")
    page.get_by_role("link", name="Versions").click()
    expect(page.get_by_role("heading", name="Judge what you see Judge, changed")).to_be_visible()
    page.get_by_role("button", name="Take into the draft").click()
    page.get_by_role("navigation", name="Stations").get_by_role("button", name=re.compile("^Judge")).click()
    expect(page.get_by_label("Title")).to_have_value("Judge these readings")
    expect(page.get_by_text("Is the pool too small?")).to_be_visible()


def test_the_bench_answers_a_fault_and_steps_through_conditions_by_keys(page: Page) -> None:
    arrive(page, "albrecht")
    page.get_by_role("link", name="Drives").click()
    lanes = page.get_by_label("Lanes", exact=True)
    expect(page.get_by_test_id("reading-maf")).to_be_visible()
    lanes.focus()
    page.keyboard.press("]")
    expect(lanes.get_by_text("2500 rpm, no load").first).to_be_visible()
    page.keyboard.press("[")
    expect(lanes.get_by_text("faulty").first).to_be_visible()
    lanes.get_by_role("button", name="faulty").first.click()
    expect(lanes.get_by_text("lies below")).to_be_visible()
    page.get_by_role("button", name="Remove", exact=True).click()
    expect(page.get_by_text("Nothing. The engine is sound.")).to_be_visible()
    expect(lanes.get_by_text("faulty")).to_have_count(0)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys on this screen")).to_be_visible()


def test_units_switch_in_one_place_and_pressures_name_their_reference(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name="Drives").click()
    pick(page, "Add a lane", "Manifold pressure (truth)")
    expect(page.get_by_text("kPa absolute").first).to_be_visible()
    page.get_by_label("Units").select_option("imperial")
    expect(page.get_by_text("inHg absolute").first).to_be_visible()
    expect(page.get_by_text("lb/min").first).to_be_visible()
    page.reload()
    expect(page.get_by_text("lb/min").first).to_be_visible()


def test_every_engine_stands_on_the_bench_with_its_own_faults_and_scales(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name="Drives").click()
    expect(page.get_by_test_id("reading-maf")).to_be_visible()

    pick(page, "Engine", "Street-works truck")
    pick(page, "What is wrong", "EGR valve does not close")
    expect(page.get_by_text("P0404")).to_be_visible()
    expect(page.get_by_test_id("reading-egr_position")).to_be_visible()
    assert offered(page, "What is wrong", "wideband") == []

    pick(page, "Engine", "Ferry shuttle")
    # A petrol engine without recirculation cannot have that fault: it is gone.
    expect(page.get_by_text("Nothing. The engine is sound.")).to_be_visible()
    expect(page.get_by_text("P0404")).to_have_count(0)
    page.get_by_role("button", name="Add a fault").click()
    pick(page, "What is wrong", "Zero point of a pressure sensor shifted")
    sensor = page.locator("fieldset.fault .parameter select").first
    expect(sensor.locator("option")).to_have_text(["MAP", "charge pressure", "barometric pressure"])
    sensor.select_option("charge")
    expect(page.get_by_label("added to the reading").first).to_have_value("12")
    expect(page.get_by_text("P0236")).to_be_visible()
    # A shift that is there only when hot cannot be seen at key on after a night, where the sensors are compared.
    page.get_by_label("When it acts").select_option("only when hot")
    expect(page.get_by_label("coolant above")).to_have_value("75")
    expect(page.get_by_text("P0236")).to_have_count(0)

    pick(page, "Engine", "Old fire tender")
    expect(page.get_by_text("count", exact=True).first).to_be_visible()
    pick(page, "Engine", "Park utility cart")
    expect(page.get_by_test_id("reading-ho2s_b1s1_v")).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)


def test_other_drives_show_what_the_workshop_day_leaves_out(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name="Drives").click()
    knot = page.get_by_role("button", name=re.compile(r"^O2S 1.1"))
    drive, values = page.get_by_label("Drive script"), page.get_by_label("Values at")
    expect(page.get_by_test_id("reading-maf")).to_be_visible()
    pick(page, "Engine", "Old fire tender")
    expect(page.get_by_text("count", exact=True).first).to_be_visible()

    drive.select_option("road_and_yard")
    # The unheated sensor has fallen asleep in the long idle, which is no verdict on it.
    values.select_option("long_idle")
    expect(knot).to_contain_text("not decidable here")
    values.select_option("no_load_1500")
    expect(knot).to_contain_text("good")

    drive.select_option("winter_morning")
    expect(page.get_by_label("Lanes", exact=True).get_by_text("Idle in deep frost").first).to_be_visible()
    expect(page.get_by_text("−18").first).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)


def test_an_aim_becomes_a_lesson_in_the_editor(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("button", name="Propose a lesson").click()
    page.get_by_label("Find an aim by words").fill("thermistor pull-up")
    page.get_by_role("button", name=re.compile("Thermistor and pull-up worked out")).click()
    page.get_by_label("Minutes").fill("40")
    page.get_by_role("button", name="Propose", exact=True).click()
    outline = page.get_by_test_id("proposed")
    expect(outline).to_be_visible()
    outline.get_by_label(re.compile("Look back")).uncheck()
    page.get_by_role("button", name="Make the lesson").click()
    expect(page.get_by_role("button", name=re.compile("Explain How it works"))).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("Verify Is it mended"))).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("Look back"))).to_have_count(0)
    page.get_by_role("button", name=re.compile("Calculate Work it out")).click()
    expect(page.get_by_role("heading", name="Key", exact=True)).to_be_visible()
    expect(page.get_by_text("Every item can be answered from what is shown.")).to_be_visible()


def test_a_device_becomes_a_lesson_in_the_editor(page: Page) -> None:
    arrive(page, "brandt", "/plan")
    page.get_by_role("button", name="a device", exact=True).click()
    pick(page, "What learners are to understand and judge", "Coolant temperature sensor (ECT)")
    page.get_by_role("button", name="start", exact=True).click()
    page.get_by_role("button", name="Propose", exact=True).click()
    page.get_by_role("button", name="Make the lesson").click()
    expect(page.get_by_role("button", name=re.compile("Separate Which test tells them apart"))).to_be_visible()


def test_a_lesson_becomes_a_drill_and_a_learner_sees_what_they_find(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name="Drills").click()
    page.get_by_label(re.compile("Out of a lesson")).select_option(label=TITLE)
    expect(page.get_by_role("button", name="Start")).to_be_visible()
    sign_out(page)
    sign_in(page, "weiss")
    page.get_by_role("link", name="Drills").click()
    page.get_by_role("button", name="Start").click()
    for number in (1, 2, 3):
        expect(page.get_by_text(f"item {number}", exact=True)).to_be_visible()
        trial = Trial.objects.get(answered_at=None, view__isnull=False)
        said = {"first": "the first", "second": "the second"}.get(trial.key["right"], trial.key["right"])
        page.get_by_role("button", name=said, exact=True).click()
        page.get_by_role("button", name="sure", exact=True).click()
        expect(page.get_by_text("Right.", exact=True)).to_be_visible()
        page.get_by_role("button", name="Next item").click()
    page.get_by_role("link", name="Figures").click()
    expect(page.get_by_text("sure: 3 of 3")).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)
