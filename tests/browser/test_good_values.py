"""Knowing what is good: the value sheet before a lesson, and a calculation worked out from a moment of the bench."""

import re

from playwright.sync_api import Page, expect

from browser_helpers import arrive, pick


def number(text: str) -> float:
    return float(re.findall(r"[0-9.]+", text.replace("\u2212", "-"))[0])


def test_a_sheet_is_moved_up_a_mountain_and_gets_a_service_value(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name="Values").click()
    band = page.get_by_test_id("band-maf")
    expect(band).to_have_text(re.compile(r"^\d\.\d\d … \d\.\d\d$"))
    low = number(band.inner_text())
    height = page.get_by_role("slider", name="Height")
    height.focus()
    for _ in range(8):
        height.press("PageUp")
    expect(page.get_by_text("Estimated.", exact=True)).to_be_visible()
    page.wait_for_function(
        "([element, was]) => parseFloat(element.textContent) < was - 0.05", arg=[band.element_handle(), low]
    )
    page.get_by_role("button", name="Back to the school’s day").click()
    expect(band).to_have_text(re.compile(f"^{low:.2f}"))

    page.get_by_role("button", name="MAF", exact=True).click()
    page.get_by_role("button", name="Add a service value").click()
    page.get_by_label("from").fill("1.7")
    page.get_by_label("to", exact=True).fill("21 bananas")
    page.get_by_label("source").fill("service book, 2024")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("bananas")
    page.get_by_label("to", exact=True).fill("2.1")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("cell", name=re.compile("service book, 2024"))).to_contain_text("1.70 … 2.10")
    pick(page, "Condition", "Key on, engine off")
    expect(page.get_by_role("cell", name=re.compile("service book, 2024"))).to_have_count(0)
    with page.expect_download() as table:
        page.get_by_role("link", name="Table (CSV)").click()
    assert "service book, 2024" in table.value.path().read_text(encoding="utf-8")


def test_a_moment_of_the_bench_is_worked_out_step_by_step(page: Page) -> None:
    arrive(page, "brandt")
    page.get_by_role("link", name="Bench").click()
    expect(page.locator(".condition")).to_have_text("Hot idle")
    page.get_by_role("button", name="Work this moment out").click()
    expect(page.get_by_role("heading", name="Volumetric efficiency from airflow")).to_be_visible()
    expect(page.get_by_label("airflow")).to_have_value(re.compile("g/s$"))
    displacement = page.get_by_label("displacement")
    displacement.fill("1.6")
    expect(page.get_by_role("alert")).to_contain_text("unit")
    displacement.fill("1.6 L")
    steps = page.get_by_role("listitem").filter(has=page.locator(".result"))
    expect(steps.last).to_contain_text("volumetric efficiency")
    assert 10.0 < number(steps.last.locator(".result").inner_text()) < 25.0
    steps.last.get_by_text("typical slips would give").click()
    expect(steps.last).to_contain_text("Upside down.")
