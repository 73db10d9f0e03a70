"""The running bench as a trainer uses it before a class."""

import re
from typing import Any

from playwright.sync_api import Locator, Page, expect

from browser_helpers import arrive, pick, sign_in, sign_out
from leitfaden_core.cautions import CAUTIONS


def name_all_measures(page: Page) -> None:
    """As on a device on which somebody has named all measures before."""
    page.evaluate("names => localStorage.setItem('cautions named', JSON.stringify(names))", list(CAUTIONS))


def open_bench(page: Page, rig: str = "", named: bool = True) -> None:
    """The bench with an engine that runs."""
    arrive(page, "brandt")
    if named:
        name_all_measures(page)
    page.get_by_role("link", name="Bench").click()
    expect(clock(page)).not_to_have_text("00:00:00")
    if rig:
        pick(page, "Engine", rig)
        expect(page.get_by_label("Engine", exact=True).first).to_be_visible()
        expect(page.locator(".bench .rig")).to_contain_text(rig)
        expect(clock(page)).not_to_have_text("00:00:00")


def clock(page: Page) -> Locator:
    return page.locator(".clock")


def number(text: str) -> float:
    return float(re.sub(r"[^0-9.+-]", "", text.replace("\u2212", "-")))


def until(page: Page, test_id: str, low: float = -1e9, high: float = 1e9, seconds: float = 90.0) -> None:
    """Wait until a reading on the lanes lies within bounds."""
    page.wait_for_function(
        """([id, low, high]) => {
          const text = document.querySelector(`[data-testid="${id}"]`)?.textContent ?? ''
          const value = Number(text.replace('\u2212', '-').replace('+', ''))
          return text !== '' && value > low && value < high
        }""",
        arg=[test_id, low, high],
        timeout=1000.0 * seconds,
    )


def run_on(page: Page, seconds: int) -> None:
    """Wait until the engine has run on for so many of its own seconds, however slow the machine is."""
    hours, minutes, now = (int(part) for part in clock(page).inner_text().split(":"))
    then = 3600 * hours + 60 * minutes + now + seconds
    text = f"{then // 3600:02d}:{then // 60 % 60:02d}:{then % 60:02d}"
    page.wait_for_function("then => document.querySelector('.clock').textContent >= then", arg=text, timeout=90_000)


def step_to(page: Page, key: str, test_id: str, low: float, steps: int = 20) -> None:
    """Go along the lanes that stand still, as one does who missed it going by, until a reading lies above a bound."""
    reading = page.get_by_test_id(test_id)
    for _ in range(steps):
        page.get_by_label("Lanes", exact=True).press(key)
        if number(reading.inner_text()) > low:
            return
    raise AssertionError(f"{test_id} is nowhere above {low}; the last is {reading.inner_text()}")


def test_a_list_of_one_kind_is_read_and_its_names_are_found_out(page: Page) -> None:
    open_bench(page)
    pick(page, "Take an instrument …", "scan tool, data list")
    tool = page.get_by_role("article", name="scan tool, data list")
    tool.get_by_role("combobox", name="list", exact=True).select_option("temperature")
    tool.get_by_role("button", name="Read", exact=True).click()
    terms, values = tool.locator("dt"), tool.locator("dd .value")
    expect(terms.filter(has_text=re.compile("^ECT$"))).to_be_visible()
    known = sorted(values.all_inner_texts())
    tool.get_by_label("Cover the names").check()
    expect(terms.filter(has_text="ECT")).to_have_count(0)
    expect(terms.first).to_have_text("Value A")
    assert sorted(values.all_inner_texts()) == known


def test_a_leak_is_opened_by_hand_trims_rise_and_the_code_is_earned(page: Page) -> None:
    open_bench(page)
    until(page, "reading-total_trim", -12, 12)
    pick(page, "Break it now …", "Air leak behind the throttle")
    opening = page.get_by_role("spinbutton", name="opening")
    opening.fill("6")
    opening.press("Tab")
    expect(page.get_by_label("What was done").get_by_text("now 6 mm²")).to_be_attached()
    page.get_by_role("button", name="fast").click()
    expect(page.get_by_text("P0171")).to_be_visible()
    page.get_by_role("button", name="×1", exact=True).first.click()
    until(page, "reading-total_trim", 20)
    expect(page.get_by_label("Lanes", exact=True).get_by_text("faulty").first).to_be_visible()

    # Whoever comes back finds the same engine, with all that was done to it.
    before = clock(page).inner_text()
    page.reload()
    expect(page.get_by_text("P0171")).to_be_visible()
    expect(page.get_by_role("spinbutton", name="opening")).to_have_value("6")
    until(page, "reading-total_trim", 20)
    assert clock(page).inner_text() >= before

    # Before a class nothing on the page tells it: neither its name, nor its mark, nor its caution.
    tells = page.get_by_text(re.compile("Air leak behind the throttle|6 mm²|flammable spray"))
    expect(tells.first).to_be_attached()
    page.get_by_role("button", name="Hide what is wrong").click()
    expect(tells).to_have_count(0)
    page.get_by_role("button", name="Show what is wrong").click()
    expect(tells.first).to_be_attached()

    page.get_by_role("button", name="Remove", exact=True).click()
    expect(page.get_by_text("Nothing. The engine is sound.")).to_be_visible()
    page.get_by_role("button", name="Clear codes").click()
    expect(page.get_by_text("None stored.")).to_be_visible()


def test_a_plug_that_is_off_parts_the_layers_and_a_lost_process_loses_nothing(page: Page, running: Any) -> None:
    open_bench(page)
    page.get_by_role("button", name=re.compile("^IAT")).click()
    card = page.get_by_role("region", name="Intake air temperature sensor")
    card.get_by_role("button", name="Pull plug: IAT").click()
    expect(card.get_by_text("Calculated by the control unit in place of a sensor that it has lost.")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^IAT")).get_by_text("plug off")).to_be_visible()
    running.drop_benches()
    expect(page.get_by_role("status").first).to_be_hidden()
    card.get_by_role("button", name="Plug on again: IAT").click()
    expect(card.get_by_role("button", name="Pull plug: IAT")).to_be_visible()
    expect(page.get_by_label("What was done").get_by_text("plug on: IAT")).to_be_attached()


def test_a_pressure_sensor_is_swept_with_the_pump_and_its_signal_is_kept(page: Page) -> None:
    open_bench(page, "Greenhouse van")
    page.get_by_role("button", name=re.compile("^MAP")).click()
    pick(page, "Take an instrument …", "hand pump")
    pump = page.get_by_role("article", name="hand pump")
    pump.get_by_role("button", name="Read", exact=True).click()
    volts = pump.locator("dd .value").nth(1)
    expect(volts).to_have_text(re.compile(r"^\d\.\d+$"))
    first = number(volts.inner_text())
    slider = pump.get_by_role("slider")
    slider.focus()
    for _ in range(8):
        slider.press("ArrowRight")
    page.wait_for_function(
        "([element, was]) => element && Number(element.textContent) < was - 0.2", arg=[volts.element_handle(), first]
    )
    pump.get_by_role("button", name="Keep reading").click()
    expect(page.get_by_role("heading", name="Readings")).to_be_visible()
    page.reload()
    expect(page.get_by_text("hand pump, MAP sensor").first).to_be_visible()


def test_after_a_night_kept_pressures_and_temperatures_are_held_against_each_other(page: Page) -> None:
    open_bench(page, "Ferry shuttle")
    page.get_by_role("button", name="off", exact=True).click()
    page.get_by_text("Time and memory").click()
    page.get_by_role("button", name="Stand a night").click()
    expect(page.get_by_label("What was done").get_by_text("stands 12 h")).to_be_attached()
    page.get_by_role("button", name="on", exact=True).click()
    expect(page.locator(".condition")).to_have_text("Key on, engine off")
    pick(page, "Take an instrument …", "scan tool, data list")
    tool = page.get_by_role("article", name="scan tool, data list")
    for family, first in (("pressure", "MAP"), ("temperature", "ECT")):
        tool.get_by_role("combobox", name="list", exact=True).select_option(family)
        tool.get_by_role("button", name=re.compile("^Read")).click()
        expect(tool.locator("dt").filter(has_text=re.compile(f"^{first}$"))).to_be_visible()
        tool.get_by_role("button", name="Keep reading").click()
    kept = page.locator(".kept")
    kept.get_by_role("button", name="Do they agree").click()
    relations = kept.locator("details").filter(has=page.locator(".verdict"))
    expect(relations).to_have_count(2)
    for relation, reason in (("pressures at key on", "within 3.0 kPa"), ("temperatures after a soak", "within 5.0 K")):
        told = relations.filter(has_text=relation)
        expect(told).to_contain_text("good")
        told.locator("summary").click()
        expect(told).to_contain_text(reason)
    expect(kept.locator("ol li")).to_have_count(3)
    kept.get_by_role("button", name="Remove this row").first.click()
    expect(relations).to_have_count(0)


def test_time_stands_goes_back_and_is_measured_between_two_cursors(page: Page) -> None:
    open_bench(page)
    lanes = page.get_by_label("Lanes", exact=True)
    page.get_by_role("button", name="Snap throttle", exact=True).click()
    expect(page.get_by_label("What was done").get_by_text("snap throttle")).to_be_attached()
    run_on(page, 3)
    page.keyboard.press("t")
    expect(page.get_by_role("button", name="Go on")).to_be_visible()
    step_to(page, "ArrowLeft", "reading-rpm", 2500)
    page.keyboard.press("a")
    page.keyboard.press("Shift+ArrowLeft")
    expect(lanes.get_by_text(re.compile("^Δt"))).to_be_visible()
    stood = clock(page).inner_text()  # what was under way when time was stopped has come by now
    page.keyboard.press("p")
    expect(page.get_by_role("heading", name="Hands")).to_have_count(0)
    expect(page.get_by_role("link", name="Bench")).to_be_hidden()
    expect(page.get_by_test_id("reading-rpm")).to_be_visible()
    page.keyboard.press("p")
    assert clock(page).inner_text() == stood
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys on this screen")).to_contain_text("snap throttle")


def test_a_night_and_days_of_driving_pass_in_a_moment_and_say_so(page: Page) -> None:
    open_bench(page)
    page.get_by_text("Time and memory").click()
    night = page.get_by_role("button", name="Stand a night")
    expect(night).to_be_disabled()
    page.get_by_role("button", name="off", exact=True).first.click()
    night.click()
    expect(page.get_by_label("What was done").get_by_text("stands 12 h")).to_be_attached()
    page.get_by_role("button", name="on", exact=True).first.click()
    expect(page.get_by_role("button", name=re.compile(r"^ECT\s*2\d"))).to_be_visible()
    page.get_by_role("button", name="crank").click()
    until(page, "reading-rpm", 500)


def test_a_stretch_is_exported_read_back_and_laid_over_a_new_one(page: Page, tmp_path: Any) -> None:
    open_bench(page)
    page.get_by_role("button", name="Snap throttle", exact=True).click()
    expect(page.get_by_label("What was done").get_by_text("snap throttle")).to_be_attached()
    run_on(page, 3)
    page.get_by_text("Recordings", exact=True).click()
    page.get_by_placeholder("Name of the recording").fill("the snap")
    page.get_by_role("button", name="Keep the last minute").click()
    entry = page.get_by_role("listitem").filter(has_text="the snap")
    expect(entry).to_be_visible()
    for link, head in (("CSV", b"time [s],rpm [1/min]"), ("MDF 4", b"MDF     4.10")):
        with page.expect_download() as file:
            entry.get_by_role("link", name=link).click()
        path = tmp_path / file.value.suggested_filename
        file.value.save_as(path)
        assert path.read_bytes().startswith(head)
    page.get_by_label("Read a file …").set_input_files(path)
    back = page.get_by_role("listitem").filter(has_text=path.name)
    back.get_by_role("button", name="Lay over").click()
    expect(page.locator(".legend").get_by_text(path.name)).to_be_visible()
    expect(page.get_by_text("recording ").first).to_be_visible()
    back.get_by_role("button", name="Take off").click()
    broken = tmp_path / "broken.csv"
    broken.write_text("time [s],maf [g/s]\n0,1\n1,many\n")
    page.get_by_label("Read a file …").set_input_files(broken)
    expect(page.get_by_text("Row 3 of the table, maf: 'many' is no number")).to_be_visible()


def test_learners_get_the_bench_when_their_lead_opens_it_and_break_nothing(page: Page) -> None:
    arrive(page, "albrecht")
    page.get_by_role("link", name="School").click()
    page.get_by_role("link", name="Rules").click()
    page.get_by_label("Learners may use the bench freely").check()
    expect(page.get_by_label("Learners may use the bench freely")).to_be_checked()
    page.goto("/school/trail")
    expect(page.get_by_text("opened the bench for learners")).to_be_visible()
    sign_out(page)

    sign_in(page, "vogt")
    page.get_by_role("link", name="Bench").click()
    expect(page.get_by_role("heading", name="Hands")).to_be_visible()
    expect(clock(page)).not_to_have_text("00:00:00")
    expect(page.get_by_role("heading", name="What is wrong")).to_have_count(0)
    page.get_by_role("button", name=re.compile("^IAT")).click()
    card = page.get_by_role("region", name="Intake air temperature sensor")
    card.get_by_role("button", name="Pull plug: IAT").click()
    expect(page.get_by_role("button", name=re.compile("^IAT")).get_by_text("plug off")).to_be_visible()
    expect(card.get_by_text("5.00").first).to_be_visible()


def test_leads_on_the_drawn_circuit_a_clamped_branch_and_a_lesson_out_of_it(page: Page) -> None:
    open_bench(page, "Greenhouse van")
    page.get_by_role("button", name=re.compile("^MAP")).click()
    card = page.get_by_role("region", name="Manifold absolute pressure sensor")
    card.get_by_role("button", name="Red lead on MAP plug: supply").click()
    card.get_by_role("button", name="black (−)").click()
    card.get_by_role("button", name="Black lead on sensor ground").click()
    meter = page.get_by_role("article", name="multimeter")
    expect(meter.locator("dd .value").first).to_have_text(re.compile(r"^(4\.9|5\.0)\d*$"))
    meter.get_by_role("button", name="Keep reading").click()
    page.get_by_role("button", name="Judge beside sound engines").click()
    expect(page.locator(".kept .verdict")).to_be_visible()

    # What lies on the desk is there again.
    page.reload()
    expect(page.get_by_role("article", name="multimeter")).to_be_visible()
    expect(page.locator(".kept .verdict")).to_be_visible()

    page.get_by_role("button", name="purge", exact=True).click()
    page.get_by_role("region", name="purge line from the canister").get_by_role("button", name="purge hose").click()
    expect(page.get_by_role("button", name="purge, clamped")).to_be_visible()

    expect(page.locator(".condition")).to_have_text("Hot idle")
    page.get_by_role("button", name="fast").click()
    page.wait_for_function("() => document.querySelector('.clock').textContent >= '00:00:30'")
    page.get_by_role("button", name="×1", exact=True).first.click()
    page.get_by_text("Recordings", exact=True).click()
    page.get_by_placeholder("Name of the recording").fill("Idle in the yard")
    page.get_by_role("button", name="Lesson from what is in view").click()
    expect(page.get_by_text("Left out: clamped: purge hose")).to_be_visible()
    expect(page.get_by_label("Title")).to_have_value("Idle in the yard")
    expect(page.get_by_label("Drive script").locator("option:checked")).to_have_text("Idle in the yard")
    expect(page.get_by_label("Lanes", exact=True).get_by_text("MAP", exact=True).first).to_be_visible()


def test_an_act_that_can_hurt_somebody_stops_until_its_measure_is_named(page: Page) -> None:
    open_bench(page, named=False)
    page.get_by_role("button", name="Snap throttle", exact=True).click()
    stop = page.get_by_role("dialog", name="Before this is done")
    expect(stop).to_contain_text("A snap of the throttle can move the vehicle.")
    expect(stop.get_by_role("button", name="Go on")).to_be_disabled()
    stop.get_by_label("Parking brake on", exact=True).check()
    expect(stop.get_by_role("alert")).to_contain_text("not enough")
    stop.get_by_role("button", name="Cancel").click()
    expect(stop).to_be_hidden()
    expect(page.get_by_label("What was done").get_by_text("snap throttle")).to_have_count(0)

    page.get_by_role("button", name="Snap throttle", exact=True).click()
    stop.get_by_label("Area clear").check()
    stop.get_by_role("button", name="Go on").click()
    expect(page.get_by_label("What was done").get_by_text("snap throttle")).to_have_count(1)

    # What was named once is not asked again.
    run_on(page, 3)
    page.get_by_role("button", name="Snap throttle", exact=True).click()
    expect(page.get_by_label("What was done").get_by_text("snap throttle")).to_have_count(2)
    expect(stop).to_be_hidden()
    run_on(page, 3)
    page.get_by_role("button", name="Freeze").click()
    page.get_by_label("What was done").get_by_role("button", name="snap throttle").first.click()
    step_to(page, "ArrowRight", "reading-rpm", 2000)
