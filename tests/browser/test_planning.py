"""Planning the whole museum in the browser: many lines, panels, suit, rules, quick size, catalogue."""

from __future__ import annotations

import json
import re
import time
from pathlib import Path

from installs.models import PlanRevision
from leitung_core.circuits import size_document
from photos.actions import work_out
from photos.models import Photo
from playwright.sync_api import Page, expect

from tests.browser.conftest import SignIn, enter, install, part
from tests.core.entry.plates import PLATES, draw, raw


def museum(open_as: SignIn, view: str = "lines") -> Page:
    page = open_as()
    install(page, "Museum plant")
    if view != "lines":
        page.locator("[data-line]").first.wait_for()
        page.keyboard.press({"panels": "p", "suit": "d", "rules": "r"}[view])
    return page


def plan(name: str = "Museum plant") -> dict:
    found = PlanRevision.objects.filter(install__name=name).order_by("number").last()
    assert found is not None
    return found.document


def test_many_lines_are_rows_and_the_one_at_hand_is_large(open_as: SignIn) -> None:
    page = museum(open_as)
    expect(page.locator("[data-line]")).to_have_count(11)
    expect(page.locator("[data-line='RT-1'] [data-part]").first).to_be_visible()
    row = page.get_by_role("button", name="Open line UH-2")
    expect(row).to_contain_text("12 AWG carries 20 A here, 26 A is needed.")
    row.click()
    expect(part(page, "interior 12 AWG")).to_be_focused()
    page.get_by_role("list", name="Findings").get_by_role("button", name="Make it 10 AWG").first.click()
    expect(page.locator("[data-line='UH-2'] [data-part='run/s1']")).to_contain_text("10 AWG")
    page.get_by_role("button", name="Plan a load-sharing device").click()
    expect(page.get_by_text("would be asked of Trailer pedestal")).to_have_count(0)


def test_from_line_to_line_by_keyboard(open_as: SignIn) -> None:
    page = museum(open_as)
    part(page, "breaker 45").focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-line='FD-1'] [data-part]:focus")).to_be_visible()
    expect(page.get_by_role("button", name="Open line RT-1")).to_be_visible()
    page.keyboard.press("ArrowUp")
    expect(part(page, "breaker 45")).to_be_focused()
    page.keyboard.press("p")
    expect(page.get_by_role("group", name="Main panel")).to_be_visible()


def test_a_heater_line_is_planned_within_a_minute(open_as: SignIn) -> None:
    """As a newcomer would: one sentence, then what the findings offer. The time is of the clicks, not of the hand."""
    page = museum(open_as)
    began = time.monotonic()
    page.get_by_role("button", name="Add a line").click()
    page.get_by_label("Panel of the new line").select_option("Outbuilding panel")
    page.get_by_label("Unit of the new line").select_option("Hearthlow HU-3, unit heater 3 kW")
    enter(page, "Length of the new run", "40 ft")
    page.get_by_label("Method of the new run").select_option("NM-B")
    page.get_by_label("Place of the new run").select_option("interior")
    enter(page, "Ambient of the new run", "warm")
    page.get_by_role("button", name="Draw it").click()
    line = page.locator("[data-line='UH-3']")
    line.locator('[data-part="run/s1"]').click()
    ambient = page.get_by_label("Ambient temperature")
    expect(page.get_by_role("alert").filter(has_text="“warm”")).to_be_visible()
    expect(ambient).to_have_value("warm")
    enter(page, "Ambient temperature", "86 F")
    expect(ambient).to_have_value("86")
    line.get_by_role("button", name="Take 20 A, 12 AWG, 30 A in sight, 10 and 12").click()
    # What is taken as it is proposed is no finding; what nobody has said of the cable is asked for.
    expect(line.get_by_label("Still to enter", exact=True)).to_contain_text("make of the cable")
    expect(line.get_by_role("list", name="Findings")).to_have_count(0)
    expect(part(page, "Unit UH-3")).to_contain_text("3 kW")
    assert time.monotonic() - began < 60
    circuit = plan()["circuits"]["UH-3"]
    assert (circuit["ocpd"]["rating_a"], circuit["ocpd"]["spaces"]) == (20, [10, 12])
    s1 = circuit["run"]["s1"]
    assert (s1["conductor"], s1["length_ft"], s1["ambient_c"]) == ("12", 40, 30)


def test_a_circuit_moves_in_its_panel_by_mouse_and_by_keys(open_as: SignIn) -> None:
    page = museum(open_as, "panels")
    page.get_by_role("button", name="Vault panel").click()
    box = page.locator("[data-circuit='AH-1']").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 60, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + 80, box["y"] + 5 * 44, steps=6)
    page.mouse.up()
    moved = page.get_by_role("button", name="Spaces 11, 13 AH-1 air handler, string vault 40 A")
    expect(moved).to_be_visible()
    moved.focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("button", name="Spaces 12, 14 AH-1")).to_be_focused()
    # Another circuit's spaces are no target: it stays.
    taken = page.locator("[data-circuit='SH-1']").bounding_box()
    held = page.locator("[data-circuit='DH-1']").bounding_box()
    assert taken is not None
    assert held is not None
    page.mouse.move(held["x"] + 60, held["y"] + 20)
    page.mouse.down()
    page.mouse.move(taken["x"] + 60, taken["y"] + 20, steps=6)
    page.mouse.up()
    expect(page.get_by_role("button", name="Space 2 DH-1")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Spaces 11, 13 AH-1")).to_be_visible()
    enter(page, "Bus rating", "40")
    expect(page.get_by_text("57.4 A would be asked of Vault panel")).to_be_visible()


def test_whether_a_heater_suits_its_room_follows_what_is_typed(open_as: SignIn) -> None:
    page = museum(open_as, "suit")
    bay = page.get_by_role("region", name="Van bay", exact=True)
    expect(bay).to_contain_text("Too small: it settles at 40 °F and never holds 50 °F")
    bay.get_by_label("Insulation").select_option("fair: insulated, ordinary doors")
    expect(bay).to_contain_text("It holds 50 °F")
    # By hand: K = 0.09 x (640 + 4 x 25.3 x 14) + 0.018 x 0.6 x 8960 = 281.9; 4480 / 281.9 x ln(60.5 / 18.5) = 18.8 h.
    expect(bay.get_by_role("img")).to_have_attribute("aria-label", re.compile("the target is reached after 18 h"))
    page.get_by_role("button", name="Loads on one branch").click()
    fresh = page.get_by_role("region", name="Q-1")
    expect(fresh).to_contain_text("Not known yet: the branch's rating, the loads.")
    bay.get_by_label("Height").fill("tall")
    page.keyboard.press("Enter")
    expect(bay.get_by_role("alert").first).to_contain_text(
        "“tall” is no number with a unit. Write one value, as 80 ft."
    )


def test_another_edition_is_tried_before_it_counts(open_as: SignIn) -> None:
    page = museum(open_as)
    part(page, "roof").click()
    enter(page, "Height above the roof", "0.8")
    expect(page.get_by_role("button", name="Revision 2")).to_be_visible()
    page.get_by_role("link", name="Site").click()
    page.get_by_role("button", name="US electrical code 2017").click()
    aside = page.get_by_role("complementary", name="What would change")
    expect(aside).to_contain_text("RT-1")
    expect(aside).to_contain_text("least conductor")
    assert plan()["rulebook"] == "us-2023"
    aside.get_by_role("button", name="Let it count").click()
    expect(page.get_by_role("button", name="US electrical code 2017", pressed=True)).to_be_visible()
    expect(page.get_by_role("button", name="Revision 3")).to_be_visible()
    assert plan()["rulebook"] == "us-2017"
    page.get_by_role("button", name="The next standard rating above 175 %").click()
    expect(aside).to_contain_text("RU-2")
    expect(aside).to_contain_text("25 A")
    aside.get_by_role("button", name="Let it count").click()
    expect(page.get_by_label("Who said so")).to_have_value("not recorded yet: enter who said so")
    enter(page, "Who said so", "Orrinsay inspector, at the counter")
    expect(page.get_by_text("Orrinsay inspector, at the counter")).to_be_visible()


def test_quick_size_gives_the_numbers_of_the_size_document_and_goes_into_an_install(open_as: SignIn) -> None:
    page = open_as()
    page.get_by_role("link", name="Quick size").click()
    enter(page, "Supply volts", "208")
    page.get_by_label("Supply phases").first.select_option("single phase")
    enter(page, "Volts to ground", "120")
    enter(page, "Plate volts", "240")
    enter(page, "Heat, watts", "7500")
    enter(page, "Heat, rated volts", "240")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Carry 33.85 A, 35 A device")
    part(page, "place not known").click()
    page.get_by_label("Wiring method", exact=True).select_option("NM-B")
    enter(page, "Length", "60")
    expect(page.get_by_role("heading", level=1)).to_contain_text("8 AWG at least")
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.get_by_role("button", name="Copy the size document").click()
    expect(page.get_by_text("Copied")).to_be_visible()
    sized = size_document(json.loads(page.evaluate("navigator.clipboard.readText()")))
    assert (sized.running_a, sized.ocpd_a, sized.conductor) == (27.083333, 35, "8")
    enter(page, "Supply volts", "0")
    expect(page.get_by_role("alert")).to_contain_text("must be above 0")
    page.get_by_label("Supply volts").first.press("Escape")
    page.get_by_label("Copy into an install").select_option("Museum plant")
    page.get_by_role("link", name="It is a line of Museum plant now").click()
    expect(page.locator("[data-line='UH-3']")).to_be_visible()


def test_a_list_of_plates_is_refused_by_line_and_kept_then_taken(open_as: SignIn, tmp_path: Path) -> None:
    page = open_as()
    page.get_by_role("link", name="Catalogue").click()
    page.get_by_role("button", name="Bring a list of plates").click()
    wrong = (
        "maker,model,kind,volts,heat_watts\nHearthlow,HX-1,unit_heater,240,4000\nHearthlow,HX-2,unit_heater,240,lots\n"
    )
    file = tmp_path / "plates.csv"
    file.write_text(wrong)
    page.get_by_label("List of plates as a file").set_input_files(file)
    expect(page.get_by_label("List of plates", exact=True)).to_have_value(wrong)
    page.get_by_role("button", name="Take it in").click()
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("line 3, heat_watts: “lots” must be a number")
    page.get_by_label("List of plates", exact=True).fill(wrong.replace("lots", "5500"))
    page.get_by_role("button", name="Take it in").click()
    expect(page.get_by_text("2 models added.")).to_be_visible()
    page.get_by_label("Find a model").fill("HX-2")
    page.get_by_role("button", name=re.compile("^HX-2")).click()
    plate = page.get_by_role("figure", name="Plate of HX-2")
    expect(plate).to_contain_text("heat5.5 kW")
    expect(page.get_by_role("heading", name="In no open install")).to_be_visible()


def test_a_unit_is_saved_as_a_model_and_taken_for_another_line(open_as: SignIn) -> None:
    page = open_as()
    install(page, "Ticket kiosk")
    page.keyboard.press("2")
    part(page, "Unit").click()
    page.get_by_role("button", name="Save as a model").click()
    page.get_by_label("Maker").fill("Tarnwick")
    page.get_by_label("Model", exact=True).fill("TW-09K")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Saved in the catalogue.")).to_be_visible()
    page.keyboard.press("Escape")
    page.goto("/")
    install(page, "Pattern loft")
    part(page, "Unit").click()
    page.get_by_label("Kind of unit").select_option("mini-split, outdoor unit")
    page.get_by_label("Catalogue model").select_option("Tarnwick TW-09K")
    expect(part(page, "Unit")).to_contain_text("9.2\u00a0A MCA")


def test_metric_is_shown_beside_what_was_entered(open_as: SignIn) -> None:
    page = open_as()
    install(page, "Bindery workshop")
    expect(part(page, "interior")).to_contain_text("38\u00a0ft")
    page.get_by_role("switch", name="Metric units").click()
    expect(part(page, "interior")).to_contain_text("11.6\u00a0m")
    part(page, "interior").click()
    expect(page.get_by_text("(11.6 m)")).to_be_visible()
    expect(page.get_by_label("Length", exact=True)).to_have_value("38")


def test_a_sentence_becomes_a_line_with_what_was_not_understood_left(open_as: SignIn) -> None:
    page = open_as()
    page.get_by_label("Name of the new install").fill("Cooperage")
    page.get_by_role("button", name="Begin").click()
    sentence = page.get_by_label("Say the unit in one sentence")
    sentence.fill("MS-1 mini-split 208/230 1ph MCA 22 max breaker 35, 60 ft NM-B from Panel A, attic, near Otto")
    expect(page.get_by_text("Not understood, and not taken: near Otto.")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Minimum circuit ampacity (MCA)")).to_have_value("22")
    expect(page.locator("svg text", has_text="Panel A").first).to_be_visible()
    page.locator('[data-part="run/s1"]').click()
    enter(page, "Length", "24 m")
    expect(page.get_by_label("Length", exact=True)).to_have_value("78.7402")
    enter(page, "Ambient temperature", "35 C")
    expect(page.get_by_label("Ambient temperature")).to_have_value("95")
    enter(page, "Length", "a long way")
    expect(page.get_by_text("is no number with a unit")).to_be_visible()
    expect(page.get_by_label("Length", exact=True)).to_have_value("a long way")


def test_an_engineers_schedule_is_drawn_and_brought_again_it_doubles_nothing(open_as: SignIn, tmp_path: Path) -> None:
    rows = "".join(f"RTU-{n},208,3,{20 + n},40\n" for n in range(1, 11))
    file = tmp_path / "schedule.csv"
    file.write_text(f"ROOFTOP UNIT SCHEDULE,,,,\nMARK,VOLTS,PH,MCA,MOCP\n{rows}RTU-11,208,3,by maker,40\n")
    page = open_as()
    page.get_by_label("Name of the new install").fill("Ropewalk")
    page.get_by_role("button", name="Begin").click()
    page.get_by_label("Bring the engineer’s schedule").set_input_files(file)
    expect(page.get_by_text("Row 13, MCA: “by maker”")).to_be_visible()
    page.get_by_role("button", name="Draw 11 lines").click()
    expect(page.get_by_text("saving …")).to_have_count(0)
    assert set(plan("Ropewalk")["circuits"]) == {f"RTU-{n}" for n in range(1, 12)}
    page.get_by_label("Bring the engineer’s schedule").set_input_files(file)
    expect(page.get_by_role("button", name="update 11 units")).to_be_visible()


def test_a_photo_of_the_plate_is_read_compared_and_taken(open_as: SignIn) -> None:
    """The figures stand beside their pieces of the photo; what is not sure is left until it is pressed."""
    page = open_as()
    page.get_by_label("Name of the new install").fill("Ropewalk")
    page.get_by_role("button", name="Begin").click()
    page.get_by_label("Say the unit in one sentence").fill("MS-1 mini-split, 60 ft from Panel A, roof")
    page.get_by_role("button", name="Draw MS-1").click()
    plate = page.get_by_role("region", name="Plate of MS-1 from a photo")
    photo = {"name": "plate.png", "mimeType": "image/png", "buffer": raw(draw(PLATES["outdoor"], "rows"))}
    plate.locator("input").set_input_files(photo)
    expect(plate).to_contain_text("Reading the plate")
    work_out(Photo.objects.get().id)
    ampacity = plate.get_by_role("button", name="Minimum circuit ampacity")
    expect(ampacity).to_have_attribute("aria-pressed", "true")
    expect(ampacity.get_by_role("img", name="The photo where 17.8 A was read")).to_be_visible()
    expect(plate.get_by_role("button", name="Frequency")).to_be_disabled()
    plate.get_by_role("button", name="Fan, full load").click()
    plate.get_by_role("button", name="Take", exact=False).last.click()
    expect(page.get_by_label("Minimum circuit ampacity (MCA)")).to_have_value("17.8")
    expect(page.get_by_text("Revision 3")).to_be_visible()
    unit = PlanRevision.objects.latest("number").document["equipment"]["MS-1"]
    assert unit["nameplate"]["compressors"] == [{"rla_a": 12.5, "lra_a": 58.3}]
    assert "motors" not in unit["nameplate"]
    photos = page.get_by_role("region", name="Photos of MS-1")
    photos.get_by_role("button", name="plate.png").click()
    page.get_by_role("dialog").get_by_role("button", name="Take it out").click()
    expect(photos.get_by_role("img")).to_have_count(0)
