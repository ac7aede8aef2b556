"""A plan as a calendar file (iCalendar, RFC 5545): an event for everything that somebody does by hand."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING, Final
from zoneinfo import ZoneInfo

from jalebi_core.production.schedule.tasks import Task

if TYPE_CHECKING:
    from icalendar import Alarm, Event

_BEFORE: Final = timedelta(minutes=5)


@dataclass(frozen=True, slots=True)
class CalendarOf:
    """Which plan a calendar file is of.

    uid : stays the same for the same plan; sequence : counted up whenever it is made anew
    names : what people are called, by their ids
    """

    uid: str
    sequence: int
    made: datetime
    origin: datetime
    zone: ZoneInfo | None
    names: dict[str, str]


def plan_calendar(plan: CalendarOf, tasks: Iterable[Task]) -> bytes:
    """Return a calendar file of tasks, with alarms five minutes before each and at the last minute it may begin.

    Times are in the plan's zone, or floating where it has none.
    """
    from icalendar import Calendar

    calendar = Calendar()
    calendar.add("prodid", "-//Jalebi//Plan//EN")
    calendar.add("version", "2.0")
    for task in tasks:
        calendar.add_component(_event(plan, task))
    if plan.zone is not None:
        calendar.add_missing_timezones()
    data: bytes = calendar.to_ical()
    return data


def _event(plan: CalendarOf, task: Task) -> Event:
    from icalendar import Event

    event = Event()
    who = plan.names.get(task.who, task.who)
    event.add("uid", f"{task.id}@{plan.uid}")
    event.add("sequence", plan.sequence)
    event.add("dtstamp", plan.made.astimezone(UTC))
    event.add("dtstart", _local(plan, task.start))
    event.add("dtend", _local(plan, task.end))
    event.add("summary", f"{task.title} ({who})")
    event.add_component(_alarm(f"In 5 minutes: {task.title}", -_BEFORE))
    if task.latest is not None and task.latest > task.start:
        wait = timedelta(minutes=task.latest - task.start)
        event.add("description", f"At the latest at {_local(plan, task.latest):%H:%M}.")
        event.add_component(_alarm(f"Last minute: {task.title}", wait))
    return event


def _alarm(says: str, after: timedelta) -> Alarm:
    from icalendar import Alarm

    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", says)
    alarm.add("trigger", after)
    return alarm


def _local(plan: CalendarOf, minutes: int) -> datetime:
    """Return the local time of a minute; minutes are elapsed time where there is a zone."""
    if plan.zone is None:
        return plan.origin + timedelta(minutes=minutes)
    begun = plan.origin.replace(tzinfo=plan.zone).astimezone(UTC)
    return (begun + timedelta(minutes=minutes)).astimezone(plan.zone)
