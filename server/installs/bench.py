"""The bench: control systems, what happens when something is pressed, and single mistakes shown on it."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated
from uuid import UUID

from accounts.roles import person
from config.problems import Refused
from django.http import HttpRequest
from leitung_core.interlocks.bench import BenchRun, bench_run
from leitung_core.interlocks.mistakes import Mistake, mistakes
from leitung_core.interlocks.overview import Overview, overview
from leitung_core.interlocks.system import System, system_of, system_with
from leitung_core.network.run import Stretch
from leitung_core.plan.model import read_plan
from leitung_core.wiring.scene import Scene
from ninja import Query, Router
from pydantic import BaseModel, Field

from installs import actions
from installs.models import Install

router = Router(tags=["bench"])
SystemKey = Annotated[str, Field(max_length=32)]


class Pressed(BaseModel):
    """What was on, and for how long, s."""

    on: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=40)] = []
    for_s: Annotated[float, Field(ge=0, le=86_400)] = 0


class Presses(BaseModel):
    """Everything that was pressed, in order; the last stretch is followed as far as anything is to come."""

    system: SystemKey
    course: Annotated[list[Pressed], Field(min_length=1, max_length=60)]
    slip: Annotated[str, Field(max_length=200)] | None = Field(None, description="a single mistake to be shown")


@router.get("/installs/{install_id}/bench", response=Overview, exclude_none=True)
def bench(request: HttpRequest, install_id: UUID, system: Annotated[SystemKey | None, Query()] = None) -> Overview:
    """The control systems of an install, and one of them: its drawing, its matrix, its transformers."""
    return overview(_scene(request, install_id), system)


@router.post("/installs/{install_id}/bench/runs", response=BenchRun, exclude_none=True)
def bench_runs(request: HttpRequest, install_id: UUID, body: Presses) -> BenchRun:
    """What happens when something is pressed: frame by frame, with volts everywhere."""
    found = _system(_scene(request, install_id), body.system)
    course = [Stretch(frozenset(pressed.on), pressed.for_s) for pressed in body.course]
    if body.slip is None:
        return bench_run(found, course)
    mistake = one_mistake(found, body.slip)
    if mistake.anew:
        return bench_run(system_with(found, mistake.patch or {}), course)
    return bench_run(found, course, mistake.gone, mistake.extra)


def _scene(request: HttpRequest, install_id: UUID) -> Scene:
    install = actions.find(person(request), install_id)
    return _scene_of(install.id, install.revision)


@lru_cache(maxsize=8)
def _scene_of(install_id: UUID, revision: int) -> Scene:
    """The wiring of a revision, which never changes: read once for all the presses on it."""
    return Scene(read_plan(actions.newest_document(Install.objects.get(id=install_id, revision=revision))))


@lru_cache(maxsize=16)
def _system(scene: Scene, key: str) -> System:
    return one_system(scene, key)


def one_system(scene: Scene, key: str) -> System:
    """The system with that device. Raises Refused where there is none."""
    found = system_of(scene, key)
    if found is None:
        raise Refused(404, "system", "There is no such control system in this plan. Open the bench again.")
    return found


def one_mistake(system: System, slip: str) -> Mistake:
    """A mistake by its id. Raises Refused where the plan no longer has it."""
    found = next((mistake for mistake in mistakes(system) if mistake.id == slip), None)
    if found is None:
        raise Refused(404, "slip", "That mistake cannot be made in this plan any more. Look at the list again.")
    return found
