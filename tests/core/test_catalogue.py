"""The catalogue and the list of plates: read whole or not at all."""

import re
from collections.abc import Callable

import pytest
from leitung_core.catalogue import COLUMNS, read_plates, shipped_models, write_plates
from leitung_core.catalogue.device import DeviceType, shipped_devices
from leitung_core.circuits.spec import Kind
from leitung_core.elements.vocabulary import Jumper
from leitung_core.errors import InputError
from leitung_core.plan.model import read_plan
from leitung_core.plant.plant import Plant
from leitung_core.wiring.lists import read_list

from tests.core.wiring.plans import split_pair

HEAD = "maker,model,kind,volts,phase,mca_a,max_ocpd_a,rla_a,cord_connected\n"


def test_the_catalogue_covers_every_family_and_survives_its_own_list() -> None:
    models = shipped_models()
    assert len(models) >= 40
    assert {model.kind for model in models} == set(Kind.__args__) - {"feeder"}  # type: ignore[attr-defined]
    assert read_plates(write_plates(models)) == list(models)
    assert write_plates(models).splitlines()[0] == ",".join(COLUMNS)


@pytest.mark.parametrize("name", ["=1+1", "+4", "-x", "@sum", "'=quoted", "'plain"])
def test_nothing_in_the_list_is_a_formula_and_it_is_read_as_it_was(name: str) -> None:
    (model, *_) = shipped_models()
    written = write_plates([model.model_copy(update={"name": name})])
    assert not re.search(r"(^|,)\"?[=+@-][^,]*", written.splitlines()[1])
    assert [entry.name for entry in read_plates(written)] == [name]


def test_several_compressors_stand_in_one_cell() -> None:
    (model,) = read_plates(HEAD + "Tarnwick,X1,packaged_rooftop,208/230,3,,,15.9; 13.1,\n")
    assert [c.rla_a for c in model.nameplate.compressors or []] == [15.9, 13.1]
    assert model.nameplate.mca_a is None


@pytest.mark.parametrize(
    ("text", "field", "remedy"),
    [
        (HEAD + "Tarnwick,X1,unit_heater,240,1,twelve,,,\n", "line 2, mca_a", "without its unit"),
        (HEAD + "Tarnwick,X1,toaster,240,1,,,,\n", "line 2, kind", "Use one of"),
        (HEAD + "Tarnwick,X1,unit_heater,240,2,,,,\n", "line 2, phase", "Use one of"),
        (HEAD + "Tarnwick,X1,unit_heater,240,1,-3,,,\n", "line 2, mca_a", "above 0"),
        (HEAD + "Tarnwick,X1,unit_heater,240,1,,,,maybe\n", "line 2, cord_connected", "yes or no"),
        (HEAD + "Tarnwick,,unit_heater,240,1,,,,\n", "line 2, model", "Add it"),
        (HEAD + "Tarnwick,X1,unit_heater,240,1,,,,,9\n", "line 2", "comma"),
        (HEAD + "Tarnwick,X1,unit_heater,240,1,,,,\ntarnwick,x1,unit_heater,240,1,,,,\n", "line 3, model", "Take one"),
        (HEAD, "list", "heading"),
        ("", "line 1", "Add it"),
        ("maker,model,kind,colour\n", "line 1", "Use: maker"),
    ],
)
def test_errors_name_line_column_and_remedy(text: str, field: str, remedy: str) -> None:
    with pytest.raises(InputError) as caught:
        read_plates(text)
    found = {problem.field: problem.remedy for problem in caught.value.problems}
    assert field in found
    assert remedy in found[field]


@pytest.mark.parametrize("reader", [read_plates, lambda text: read_list(Plant(read_plan(split_pair())), text)])
@pytest.mark.parametrize(
    ("text", "remedy"),
    [('maker,model,kind\nTarnwick,"X1,unit_heater\n', "Close the quote"), ("a" * 131_073, "at most 10000"),
     ('maker,"mo"del,kind\n', "Close the quote"), ('cable,"' + "b" * 140_000 + '"', "at most 10000")],
)  # fmt: skip
def test_a_broken_list_names_its_line(reader: Callable[[str], object], text: str, remedy: str) -> None:
    with pytest.raises(InputError) as caught:
        reader(text)
    assert caught.value.problems[0].field.startswith("line ")
    assert remedy in caught.value.problems[0].remedy


@pytest.mark.parametrize("ending", ["\n", "\r\n", "\r"])
def test_a_list_is_read_whatever_ends_its_lines(ending: str) -> None:
    text = (HEAD + "Tarnwick,X1,unit_heater,240,1,,,,\n").replace("\n", ending)
    assert [model.model for model in read_plates(text)] == ["X1"]


@pytest.mark.parametrize("kind", shipped_devices().values(), ids=lambda kind: kind.id)
def test_a_devices_case_is_one_ground(kind: DeviceType) -> None:
    """Else a case behind it would count as grounded, or as not, by which of its ground terminals is taken."""
    grounds = {
        f"{strip.id}.{post.id}" for strip in kind.strips for post in strip.terminals if post.function == "ground"
    }
    joined = {(part.a, part.b) for part in kind.inside if isinstance(part, Jumper) and not part.setting}
    reached = {min(grounds, default="")}
    for _ in grounds:
        reached |= {end for pair in joined if reached & set(pair) for end in pair}
    assert grounds <= reached
