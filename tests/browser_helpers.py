"""What every journey begins and ends with."""

from playwright.sync_api import Error, Page, TimeoutError, expect

PASSWORD = "hollerbach"


def arrive(page: Page, name: str, address: str = "/") -> None:
    """At an address as somebody who has signed in before: where the journey is not about signing in."""
    page.request.get("/")  # the site's token
    token = next(cookie["value"] for cookie in page.context.cookies() if cookie["name"] == "csrftoken")
    told = page.request.post(
        "/api/session", data={"username": name, "password": PASSWORD}, headers={"X-CSRFToken": token}
    )
    assert told.ok, told.text()
    page.goto(address)


def sign_in(page: Page, name: str, password: str = PASSWORD) -> None:
    """On the screen."""
    if page.url == "about:blank":
        page.goto("/")
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()


def sign_out(page: Page) -> None:
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("heading", name="Which of these values would you doubt?")).to_be_visible()


def pick(page: Page, label: str, entry: str) -> None:
    """Choose from a list as its user does. A short one opens; a longer one is searched by typing some of the name, and
    what is found is taken: once more where the page moved from under the hand.
    """
    box = page.get_by_role("combobox", name=label, exact=True)
    if box.evaluate("list => list.tagName") == "SELECT":
        try:
            box.select_option(label=entry)
            return
        except Error:
            expect(box).to_be_editable()  # the rest of the list has come meanwhile
    box.fill(entry)
    found = page.get_by_role("option", name=entry, exact=True)
    found.click()
    try:
        found.wait_for(state="hidden", timeout=3_000)
    except TimeoutError:
        found.click()


def offered(page: Page, label: str, typed: str) -> list[str]:
    """What such a list offers for what is typed."""
    box = page.get_by_role("combobox", name=label, exact=True)
    box.fill(typed)
    found = page.locator(".el-select-dropdown__item:visible").all_inner_texts()
    page.keyboard.press("Escape")
    return found
