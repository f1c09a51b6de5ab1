"""Players in the real interface: deleted after what goes was named, and brought back."""

from playwright.sync_api import expect

from tests.browser.conftest import Launch, Server, page_of
from tests.browser.test_accessibility import check


def test_a_player_is_deleted_by_key_and_brought_back(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("p")
        page.get_by_role("button", name="Change Osk").click()
        page.get_by_role("button", name="delete Osk").click()
        asked = page.get_by_role("dialog", name="Delete Osk?")
        expect(asked).to_contain_text("With Osk go: nothing that was played.")
        expect(asked).to_contain_text("brought back for 7 days")
        check(page)
        page.keyboard.press("Escape")
        expect(asked).not_to_be_visible()
        page.get_by_role("button", name="delete Osk").click()
        expect(asked.get_by_role("button", name="delete Osk")).to_be_enabled()
        page.keyboard.press("Delete")
        expect(page.get_by_role("button", name="Change Osk")).to_have_count(0)
        gone = page.get_by_role("region", name="Deleted")
        expect(gone).to_contain_text("Osk was deleted, and can be brought back until")
        check(page)
        page.keyboard.press("z")
        expect(page.get_by_role("button", name="Change Osk")).to_be_visible()
        expect(gone).to_have_count(0)
