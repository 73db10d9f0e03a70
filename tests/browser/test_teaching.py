"""What a trainer does about a lesson's fairness and key, how it is given, and stations of the hand."""

import re
from io import BytesIO
from typing import Any

from PIL import Image
from playwright.sync_api import Page, expect

from browser_helpers import arrive, sign_in, sign_out
from lessons.models import Lesson
from lessons.services import create_lesson, publish_lesson
from people.models import Membership
from practice.items import prepare_station
from practice.models import Attempt, ItemKey
from practice.services import Giving, assign

HANDS: dict[str, Any] = {
    "title": "With one's own hands",
    "stations": [
        {"kind": "procedure", "id": "out", "title": "It sits fast", "piece": "plastic_nipple"},
        {
            "kind": "match",
            "id": "where",
            "title": "Where does it belong?",
            "readings": [{"condition": where, "channel": "rpm"} for where in ("hot_idle", "no_load_2500", "cruise_80")],
        },
        {
            "kind": "own",
            "id": "rig",
            "title": "At our own bus",
            "readings": [{"condition": "hot_idle", "channel": "ect"}],
            "error_percent": 1.0,
        },
    ],
}

LEAK = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 4.0}}
SEEN = {"kind": "explain", "text": "Air that nobody has measured.", "drawing": "none"}
#: Who foresees the trim gets past the help; then the engine runs.
WAYS: dict[str, Any] = {
    "title": "Foreseen and run",
    "faults": [LEAK],
    "stations": [
        SEEN | {"id": "look", "title": "A hose"},
        {
            "kind": "sketch",
            "id": "draw",
            "title": "What will the trim do?",
            "place": {"condition": "hot_idle", "channel": "total_trim"},
        },
        SEEN | {"id": "help", "title": "Once more, slowly", "given_if": {"station": "draw", "percent": 60}},
        SEEN
        | {"id": "more", "title": "For the quick", "given_if": {"station": "draw", "result": "reached", "percent": 60}},
        {
            "kind": "live",
            "id": "run",
            "title": "Run it",
            "text": "Hold 2500 and watch the trim.",
            "channels": ["rpm", "total_trim"],
            "hands": ["hoses"],
            "instruments": ["smoke_generator"],
            "readings": [{"condition": "hot_idle", "channel": "rpm"}],
            "words": 2,
        },
    ],
}


EYES = {
    "title": "Eyes, pins and traces",
    "faults": [LEAK],
    "stations": [
        {
            "kind": "plates",
            "id": "eyes",
            "title": "What do you see?",
            "plates": ["tip_soot", "tip_oil", "bank_1_sensor_1", "bank_2_sensor_1"],
        },
        {"kind": "pins", "id": "pins", "title": "Which pin?", "wire": "maf"},
        {
            "kind": "sheet",
            "id": "traces",
            "title": "Sound or not?",
            "as_traces": True,
            "readings": [{"condition": "hot_idle", "channel": name} for name in ("total_trim", "rpm")],
        },
    ],
}


def test_a_warning_is_answered_with_one_click_and_a_key_is_overruled(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name="A narrowband sensor in the library bus").click()
    page.get_by_role("button", name="Judge Judge these readings").click()
    count = page.get_by_label("Readings per learner")
    pool = int(page.get_by_text("Pool of readings (").inner_text().split("(")[1].rstrip(")"))
    if pool < 12:
        count.fill("12")
        page.get_by_role("button", name=f"Ask {pool}").click(timeout=120_000)
        expect(count).to_have_value(str(pool))
    page.get_by_role("button", name="Work out").click()
    expect(page.get_by_text("as it is", exact=True)).to_be_visible(timeout=120_000)
    expect(page.get_by_text("Three learners would draw")).to_be_visible()

    page.get_by_text("Overrule the model").click()
    page.get_by_role("button", name="overrule").first.click()
    page.get_by_label("Right is").select_option("not_decidable")
    page.get_by_label("Why, as learners will read it").fill("Not at that temperature")
    page.get_by_label("Source").fill("own measurement")
    page.get_by_role("button", name="Lay over the model").click()
    expect(
        page.get_by_text("Not at that temperature. Overruled by the trainer, source: own measurement.")
    ).to_be_visible()
    page.get_by_role("button", name="take back").click()
    expect(page.get_by_text("Overruled by the trainer")).to_be_hidden()


def test_what_a_picture_means_and_whether_an_engine_is_sound_is_overruled_too(page: Page) -> None:
    trainer = Membership.objects.get(user__username="brandt")
    lesson = create_lesson(member=trainer, document=EYES | {"title": "Overruled eyes"})
    arrive(page, "brandt", f"/lessons/{lesson.pk}")
    for station in ("What do you see?", "Sound or not?"):
        page.get_by_role("button", name=re.compile(re.escape(station))).first.click()
        page.get_by_text("Overrule the model").click()
        page.get_by_role("button", name="overrule").first.click()
        page.get_by_label("Right is").select_option(index=1)
        page.get_by_label("Why, as learners will read it").fill(f"Seen otherwise at {station}")
        page.get_by_label("Source").fill("own measurement")
        page.get_by_role("button", name="Lay over the model").click()
        expect(page.get_by_text("Overruled by the trainer, source: own measurement.")).to_be_visible()
    page.reload()
    page.get_by_role("button", name=re.compile("What do you see")).first.click()
    page.get_by_text("Overrule the model").click()
    expect(page.get_by_text("Seen otherwise at What do you see?").first).to_be_visible()


def test_handwork_and_own_readings_with_a_held_debrief_and_a_questioned_key(page: Page) -> None:
    trainer = Membership.objects.get(user__username="brandt")
    lesson: Lesson = create_lesson(member=trainer, document=HANDS)
    version = publish_lesson(member=trainer, lesson_id=lesson.pk)
    given = assign(member=trainer, version=version, learners=["vogt"], giving=Giving(debrief_held=True))[0]
    for station in range(3):
        prepare_station(given.pk, station)
    keys = {key.station: key.parts["metric"] for key in ItemKey.objects.filter(assignment=given)}

    sign_in(page, "vogt")
    page.get_by_role("article").filter(has_text=HANDS["title"]).get_by_role("button", name="Start").click()
    expect(page.get_by_text("Stage 1 of")).to_be_hidden()  # cautions first
    page.get_by_label("I have read this").check()
    for part in keys[0]:
        best = next(choice for choice in part["choices"] if choice["worth"] == 1.0)
        page.get_by_role("group", name=part["situation"]).get_by_label(best["text"]).check()
        expect(page.get_by_text(best["comes"])).to_be_hidden()
        page.get_by_role("button", name="Do it; it cannot be taken back").click()
        expect(page.get_by_text(best["comes"])).to_be_visible()
    page.reload()
    expect(page.get_by_text(keys[0][0]["choices"][0]["text"])).to_be_visible()  # what was done is still there
    page.get_by_role("button", name="Save and continue").click()
    expect(page.get_by_role("heading", name="Where does it belong?")).to_be_visible()
    for k, part in enumerate(keys[1]):
        page.locator("form.station select").nth(k).select_option(part["ids"][0])
    page.get_by_role("button", name="Save and continue").click()
    page.get_by_label("I have read this").check()
    page.get_by_label("Value with its unit").fill("250 °C")
    page.get_by_label("good", exact=True).check()
    page.get_by_role("button", name="Save and finish").click()
    expect(page.get_by_role("alert")).to_contain_text("Your trainer opens the debrief for all together.")
    sign_out(page)

    arrive(page, "brandt", f"/lessons/{lesson.pk}/results")
    page.get_by_role("button", name="Open one held debrief").click()
    expect(page.get_by_text("debrief held")).to_be_hidden()
    sign_out(page)

    sign_in(page, "vogt")
    page.get_by_role("article").filter(has_text=HANDS["title"]).get_by_role("link", name="Debrief").click()
    expect(page.get_by_text("outside the band")).to_be_visible()
    page.get_by_role("button", name="Question this key").last.click()
    page.get_by_role("textbox").last.fill("The gauge had two percent.")
    page.get_by_role("button", name="Send to your trainer").click()
    expect(page.get_by_text("The gauge had two percent.")).to_be_visible()
    attempt = Attempt.objects.get(assignment=given)
    assert attempt.disputes.get().text == "The gauge had two percent."


def test_what_the_eye_sees_pins_and_traces_are_answered_and_marked(page: Page) -> None:
    trainer = Membership.objects.get(user__username="brandt")
    lesson: Lesson = create_lesson(member=trainer, document=EYES)
    given = assign(
        member=trainer, version=publish_lesson(member=trainer, lesson_id=lesson.pk), learners=["vogt"], giving=Giving()
    )[0]
    for station in range(3):
        prepare_station(given.pk, station)
    keys = {key.station: key.parts["metric"] for key in ItemKey.objects.filter(assignment=given)}

    arrive(page, "vogt")
    page.get_by_role("article").filter(has_text=EYES["title"]).get_by_role("button", name="Start").click()
    for k, part in enumerate(keys[0]):
        expect(page.get_by_role("img", name=part["sight"])).to_be_visible()
        page.get_by_label(f"What picture {k + 1} means").select_option(part["ids"][0])
    page.get_by_role("button", name="Save and continue").click()
    for part in keys[1]:
        page.get_by_label(f"What pin {part['letter']} is").select_option(part["ids"][0])
    page.get_by_role("button", name="Save and continue").click()
    expect(page.get_by_role("img", name="Total trim")).to_have_count(2)  # an engine each
    for k, part in enumerate(keys[2]):
        engine = page.get_by_role("group", name=f"Engine {k + 1} is")
        engine.get_by_label(part["right"], exact=True).check()
        if part["right"] == "faulty":
            engine.get_by_role("combobox").select_option(str([r["tells"] for r in part["readings"]].index(True)))
    page.get_by_role("button", name="Save and finish").click()
    expect(page.get_by_text("100 %", exact=False).first).to_be_visible()


def test_a_picture_is_put_in_and_seen_by_learners(page: Page) -> None:
    trainer = Membership.objects.get(user__username="brandt")
    lesson: Lesson = create_lesson(member=trainer, document=WAYS)
    arrive(page, "brandt")
    page.get_by_role("link", name=WAYS["title"]).click()
    page.get_by_role("button", name="Explain A hose").click()
    chooser = page.locator("input[type=file]")
    expect(chooser).to_be_disabled()  # until it is said what the picture shows
    page.get_by_placeholder("a cracked hose").fill("a grey wall")
    picture = BytesIO()
    Image.new("RGB", (400, 300), "grey").save(picture, "PNG")
    chooser.set_input_files({"name": "wall.png", "mimeType": "image/png", "buffer": picture.getvalue()})
    seen = page.get_by_role("img", name="a grey wall").last
    expect(seen).to_have_js_property("naturalWidth", 400)
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    lesson.refresh_from_db()
    assert lesson.draft["stations"][0]["pictures"][0]["alt"] == "a grey wall"


def test_a_sketch_leads_to_help_and_an_engine_keeps_its_secret(page: Page) -> None:
    trainer = Membership.objects.get(user__username="brandt")
    lesson: Lesson = create_lesson(member=trainer, document=WAYS)
    version = publish_lesson(member=trainer, lesson_id=lesson.pk)
    given = assign(member=trainer, version=version, learners=["vogt"])[0]
    for station in range(len(WAYS["stations"])):
        prepare_station(given.pk, station)

    arrive(page, "vogt")
    page.get_by_role("article").filter(has_text=WAYS["title"]).get_by_role("button", name="Start").click()
    page.get_by_role("button", name="Save and continue").click()
    expect(page.get_by_text("once given, it stays")).to_be_visible()
    page.get_by_role("button", name="Save and continue").click()
    expect(page.get_by_role("alert")).to_contain_text("Draw over the whole width")
    page.get_by_role("button", name="Begin with the sound trace").click()
    knot = page.get_by_role("slider").first
    before = knot.get_attribute("aria-valuenow")
    knot.press("ArrowUp")
    expect(knot).not_to_have_attribute("aria-valuenow", str(before))
    page.get_by_role("button", name="Save and continue").click()
    expect(page.get_by_role("heading", name="Once more, slowly")).to_be_visible()
    expect(page.get_by_text("Station 3 of 4")).to_be_visible()
    page.get_by_role("button", name="Save and continue").click()

    page.get_by_role("button", name="Go to the engine").click()
    engine = page.get_by_role("region", name="Run it")
    expect(engine.get_by_test_id("reading-rpm")).to_be_visible()
    expect(engine.get_by_text("sound twin")).to_have_count(0)
    expect(engine.get_by_role("heading", name="What is wrong")).to_have_count(0)
    engine.get_by_placeholder("for example 12.5").fill("780 1/min")
    engine.get_by_label("What did you notice").fill("the trim falls with speed")
    engine.get_by_role("button", name="Back to the station").click()
    expect(page.get_by_label("What did you notice")).to_have_value("the trim falls with speed")
    page.get_by_role("button", name="Save and finish").click()
    expect(page.get_by_text("Not on this way through the lesson: For the quick.")).to_be_visible()
    expect(page.get_by_text("the trim falls with speed")).to_be_visible()
