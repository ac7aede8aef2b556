"""The workplace of a kitchen: who is there when and with what, as somebody set it or as a kitchen usually has it."""

from __future__ import annotations

from typing import Final

from django.db import transaction

from api.problems import ConflictError
from kitchens.models import Kitchen, Machine, Person, Place
from plans.models import Workplace
from plans.schemas import MachineAtWork, WeeklyHours, WorkerIn, WorkplaceIn, WorkplaceOut

_EVERY_DAY: Final = list(range(7))
_BOWLS: Final = ("canister",)
_BUCKETS: Final = ("ice-and-salt", "bag")


def workplace_of(kitchen: Kitchen) -> WorkplaceOut:
    """Return a kitchen's workplace; a machine that nobody has said anything of has what its kind usually has."""
    row = Workplace.objects.of(kitchen).first()
    machines = list(Machine.objects.of(kitchen))
    stated = WorkplaceIn.model_validate(row.content) if row else _usual(kitchen)
    known = {one.machine: one for one in stated.machines}
    at_work = [known.get(machine.pk) or _usual_machine(machine) for machine in machines]
    return WorkplaceOut(
        **{**stated.model_dump(), "machines": at_work},
        version=row.version if row else 0,
        machine_names=_names(machines),
    )


@transaction.atomic
def save_workplace(kitchen: Kitchen, version: int, stated: WorkplaceIn) -> None:
    """Save a workplace whole; raises ConflictError where somebody saved another version first."""
    row = Workplace.objects.of(kitchen).select_for_update().first()
    if (row.version if row else 0) != version:
        raise ConflictError("Somebody else changed the workplace meanwhile. Look at it again.", version=version)
    Workplace.objects.of(kitchen).filter(kitchen=kitchen).delete()
    Workplace.objects.create(kitchen=kitchen, content=stated.model_dump(mode="json"), version=version + 1)


def _names(machines: list[Machine]) -> dict[int, str]:
    """Return what machines are called, each by a name of its own."""
    found: dict[int, str] = {}
    for machine in machines:
        name, number = machine.name, 2
        while name in found.values():
            name, number = f"{machine.name} {number}", number + 1
        found[machine.pk] = name
    return found


def _usual(kitchen: Kitchen) -> WorkplaceIn:
    day = [WeeklyHours(days=_EVERY_DAY, start=8 * 60, end=20 * 60)]
    people = [WorkerIn(name=person.name, hours=day) for person in Person.objects.filter(kitchen=kitchen).order_by("pk")]
    kinds = set(Machine.objects.of(kitchen).values_list("kind", flat=True))
    blast = Place.objects.of(kitchen).filter(kind="blast", put_away=False).exists()
    return WorkplaceIn(people=people, buckets=int("ice-and-salt" in kinds), blast_l=6 if blast else 0)


def _usual_machine(machine: Machine) -> MachineAtWork:
    """Return what a kind of machine usually needs before and after a run."""
    if machine.kind in _BOWLS:
        return MachineAtWork(
            machine=machine.pk, wash_min=10, dirty_max_min=60, wash_always=True, ready_min=720, ready_hands_min=5
        )
    if machine.kind in _BUCKETS:
        return MachineAtWork(
            machine=machine.pk, wash_min=15, dirty_max_min=60, wash_always=True, ready_min=15, ready_hands_min=15
        )
    return MachineAtWork(
        machine=machine.pk, wash_min=15, dirty_max_min=240, wash_always=False, ready_min=15, ready_hands_min=5
    )
