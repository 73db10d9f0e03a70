"""Understanding and knowing good: a learner reads and moves, a trainer compares faults, anybody searches."""

import re

import pytest
from playwright.sync_api import Page, expect

from browser_helpers import arrive, pick


def seen(page: Page, name: str) -> float:
    text = page.get_by_test_id(f"seen-{name}").inner_text().replace("\u2212", "-")
    return float(re.findall(r"-?[0-9.]+", text)[0])


def test_a_learner_finds_out_that_a_narrowband_is_a_switch_and_a_wideband_is_not(page: Page) -> None:
    arrive(page, "ritter")
    page.get_by_role("link", name="Atlas").click()
    page.get_by_role("link", name="Narrowband oxygen sensor").click()
    page.get_by_role("button", name="3 Lean").click()
    expect(page.get_by_test_id("seen-pin")).to_have_text(re.compile(r"^0\.0"))
    mixture = page.get_by_role("slider", name="mixture λ")
    mixture.focus()
    mixture.press("Home")
    expect(page.get_by_test_id("seen-pin")).to_have_text(re.compile(r"^0\.9"))
    expect(page.locator(".says").first).to_contain_text("Rich")
    rich = seen(page, "pin")
    for _ in range(20):
        mixture.press("ArrowRight")
    expect(page.locator(".says").first).to_contain_text("tells the side, not the amount")
    assert abs(seen(page, "pin") - rich) < 0.06

    page.keyboard.press("/")
    page.get_by_role("combobox", name=re.compile("Sensor, fault")).fill("A/F sensor")
    page.get_by_role("option").filter(has_text="Wideband oxygen sensor").click()
    expect(page.get_by_role("heading", name="Wideband oxygen sensor", level=1)).to_be_visible()
    page.get_by_role("button", name="3 Rich").click()
    expect(page.get_by_test_id("seen-current")).to_have_text(re.compile("^−"))
    page.get_by_role("button", name="2 Lambda 1").click()
    expect(page.get_by_test_id("seen-current")).to_have_text("0.00 mA")
    expect(page.get_by_text("Your trainer has closed the value sheets.")).to_be_visible()


@pytest.mark.slow
def test_height_takes_the_vacuum_and_a_positive_valve_holds_none_on_the_bench(page: Page) -> None:
    arrive(page, "ritter", "/atlas/map_sensor?drawing=rulers")
    expect(page.get_by_test_id("seen-vacuum")).to_be_visible()
    page.get_by_role("button", name="1 Idle at sea level").click()
    expect(page.get_by_test_id("seen-vacuum")).to_have_text("68.3 kPa")
    page.get_by_role("button", name="2 The same idle at 2000 m").click()
    expect(page.get_by_test_id("seen-vacuum")).to_have_text("46.5 kPa")
    expect(page.get_by_test_id("seen-absolute")).to_have_text("33.0 kPa")

    page.goto("/atlas/egr_valves")
    page.get_by_role("button", name="1 Positive type on the bench").click()
    expect(page.get_by_test_id("seen-lift")).to_have_text("0 %")
    page.get_by_role("group", name="type").get_by_role("button", name="negative back-pressure").click()
    expect(page.get_by_test_id("seen-lift")).to_have_text("100 %")


@pytest.mark.slow
def test_a_card_lets_the_engines_decide_between_the_schools(page: Page) -> None:
    arrive(page, "brandt", "/atlas/false_air?rig=R2")
    card = page.get_by_role("article").filter(has_text="A leak behind the throttle on a speed-density engine")
    card.get_by_role("button", name="What changes the outcome").click()
    trims = card.get_by_role("row").filter(has_text="Total trim")
    expect(trims).to_contain_text(re.compile(r"\+2\d\.\d %.*\+0\.\d %.*−2\d\.\d %"))


def test_what_a_device_shows_when_it_fails_and_its_circuit(page: Page) -> None:
    arrive(page, "brandt", "/atlas/narrowband")
    page.get_by_role("button", name=re.compile("Front oxygen sensor contaminated")).click()
    expect(page.get_by_text("dry, black, velvety: rich running")).to_be_visible()
    expect(page.get_by_role("heading", name="On the display")).to_be_visible()
    circuit = page.locator("#circuit")
    circuit.get_by_role("button", name="key on, plug off").click()
    expect(circuit.get_by_text("0.45 V").last).to_be_visible()


@pytest.mark.parametrize(
    ("rig", "shown"),
    [
        pytest.param("R1", "Total trim", marks=pytest.mark.slow),
        pytest.param("R2", "Idle air", marks=pytest.mark.slow),
        ("R3", "Throttle position"),
    ],
)
def test_the_same_leak_on_three_engines(page: Page, rig: str, shown: str) -> None:
    arrive(page, "brandt", f"/signatures?rig={rig}&kind=manifold_vacuum_leak")
    expect(page.get_by_role("heading", name="On the display")).to_be_visible()
    expect(page.get_by_role("row").filter(has_text=shown).first).to_be_visible()
    expect(page.get_by_role("heading", name="What else looks like this")).to_be_visible()


def test_trim_steps_lead_to_the_fault_behind_a_column(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name="Faults").click()
    page.get_by_role("button", name="Trim steps").click()
    page.get_by_role("button", name="large", exact=True).click()
    expect(page.get_by_role("link", name="meter reads low")).to_have_attribute("href", re.compile(r"0\.75"))
    page.get_by_role("link", name="meter reads low").click()
    expect(page.get_by_role("spinbutton").first).to_have_value("0.75")
    page.get_by_role("button", name="Faults and conditions").click()
    pick(page, "Group of faults", "temperature and cooling")
    expect(page.get_by_role("rowheader").filter(has_text="Thermostat stuck open")).to_be_visible(timeout=60_000)


def test_the_search_goes_by_arrows_and_says_when_there_is_nothing(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("button", name="Search").click()
    field = page.get_by_role("combobox", name=re.compile("Sensor, fault"))
    field.fill("qqqqqq")
    expect(page.get_by_text("Nothing has all of these words.")).to_be_visible()
    field.fill("density")
    expect(page.get_by_role("option").first).to_be_visible()
    field.press("ArrowDown")
    expect(page.get_by_role("option").nth(1)).to_have_attribute("aria-selected", "true")
    field.fill("Air density")
    expect(page.get_by_role("option").first).to_contain_text("Air density")
    field.press("Enter")
    expect(page.get_by_role("heading", name="Air density")).to_be_visible()


@pytest.mark.slow
def test_a_place_on_the_bench_and_a_value_lead_to_the_atlas(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name="Values").click()
    page.get_by_role("button", name="MAF", exact=True).click()
    page.get_by_role("link", name="Atlas: Hot-film airflow meter").click()
    expect(page.get_by_role("heading", name="Hot-film airflow meter", level=1)).to_be_visible()
    pick(page, "On the engine", "Library bus with a digital meter")
    expect(page).to_have_url(re.compile("rig=R1-HZ"))
    expect(page.locator("#circuit").get_by_role("button", name="key on, plug off").first).to_be_visible()
