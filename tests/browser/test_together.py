"""Two people, a lost connection, an ended session: nothing that was entered is lost."""

from __future__ import annotations

from accounts.models import Company, Role, User
from django.contrib.sessions.models import Session
from installs.models import PlanRevision
from playwright.sync_api import Page, expect
from upkeep.demo import PASSWORD

from tests.browser.conftest import SignIn, enter, install, part


def second_lead() -> None:
    crew = Company.objects.get(name="Brae & Finch Mechanical")
    User.objects.create_user("n.reed", password=PASSWORD, company=crew, display_name="Nia Reed", role=Role.LEAD)


def at_the_breaker(page: Page) -> None:
    install(page, "Bindery workshop")
    part(page, "breaker").click()


def both_at_the_breaker(open_as: SignIn) -> tuple[Page, Page]:
    second_lead()
    first, second = open_as(), open_as("n.reed")
    at_the_breaker(first)
    at_the_breaker(second)
    return first, second


def test_the_second_one_chooses_and_loses_nothing(open_as: SignIn) -> None:
    first, second = both_at_the_breaker(open_as)
    enter(first, "Breaker or fuse rating", "20")
    expect(first.get_by_role("button", name="Revision 2")).to_be_visible()
    enter(second, "Breaker or fuse rating", "25")
    choice = second.get_by_role("region", name="Changed by two people")
    expect(choice.get_by_role("heading")).to_have_text("Ines Tarn changed the same part meanwhile")
    expect(choice.get_by_role("row").last).to_have_text("MS-1 breaker rating25 A20 A")
    choice.get_by_role("button", name="Use mine").click()
    expect(part(second, "breaker 25")).to_be_visible()
    expect(second.get_by_role("button", name="Revision 3")).to_be_visible()
    expect(choice).to_have_count(0)
    # The other way round: the first keeps what stands.
    enter(first, "Breaker or fuse rating", "30")
    choice = first.get_by_role("region", name="Changed by two people")
    choice.get_by_role("button", name="Keep what stands").click()
    expect(part(first, "breaker 25")).to_be_visible()
    assert PlanRevision.objects.filter(install__name="Bindery workshop").count() == 3


def test_different_parts_both_stand(open_as: SignIn) -> None:
    first, second = both_at_the_breaker(open_as)
    enter(first, "Breaker or fuse rating", "20")
    expect(first.get_by_role("button", name="Revision 2")).to_be_visible()
    part(second, "interior").click()
    enter(second, "Length", "44")
    expect(second.get_by_role("button", name="Revision 3")).to_be_visible()
    expect(part(second, "breaker 20")).to_be_visible()


def test_without_a_connection_changes_are_kept_through_a_closed_page(open_as: SignIn) -> None:
    page = open_as()
    at_the_breaker(page)
    url = page.url
    page.context.set_offline(True)
    enter(page, "Breaker or fuse rating", "20")
    expect(page.get_by_text("No connection.")).to_be_visible()
    expect(page.get_by_text("1 change is kept here")).to_be_visible()
    expect(part(page, "breaker 20")).to_be_visible()
    page.close()
    page.context.set_offline(False)
    again = page.context.new_page()
    again.goto(url)
    expect(part(again, "breaker 20")).to_be_visible()
    expect(again.get_by_role("button", name="Revision 2")).to_be_visible()


def test_the_connection_comes_back_by_itself(open_as: SignIn) -> None:
    page = open_as()
    at_the_breaker(page)
    page.context.set_offline(True)
    enter(page, "Breaker or fuse rating", "20")
    page.keyboard.press("Control+z")
    expect(page.get_by_text("2 changes are kept here")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("No connection.")).to_have_count(0)
    expect(page.get_by_role("button", name="Revision 3")).to_be_visible()
    expect(part(page, "breaker 15")).to_be_visible()


def test_an_ended_session_keeps_the_change_until_signed_in_again(open_as: SignIn) -> None:
    page = open_as()
    at_the_breaker(page)
    Session.objects.all().delete()
    enter(page, "Breaker or fuse rating", "20")
    expect(page.get_by_text("Your session has ended.")).to_be_visible()
    page.get_by_label("Name", exact=True).fill("i.tarn")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("button", name="Revision 2")).to_be_visible()
    expect(part(page, "breaker 20")).to_be_visible()


def test_a_wrong_password_is_told_and_the_name_stays(open_as: SignIn) -> None:
    page = open_as(None)
    page.get_by_label("Name").fill("i.tarn")
    page.get_by_label("Password").fill("guess")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("do not belong together")
    expect(page.get_by_label("Name")).to_have_value("i.tarn")
