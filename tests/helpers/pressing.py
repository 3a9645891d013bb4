"""Pressing a button as a person does: the next thing is done on the page that it leads to, not on the one it leaves."""


def press(page, name: str, exact: bool = False) -> None:
    """Presses the first button of this name and waits for the page that answers."""
    with page.expect_navigation():
        page.get_by_role("button", name=name, exact=exact).first.click()
