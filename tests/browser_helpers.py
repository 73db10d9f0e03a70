"""What every journey begins and ends with."""

from playwright.sync_api import Page, expect


def sign_in(page: Page, name: str, password: str = "hollerbach") -> None:
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()


def sign_out(page: Page) -> None:
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("heading", name="Which of these values would you doubt?")).to_be_visible()
