"""When a press was made: what its device says, as far as that can be known there.

A device says how long ago a press was made, and may say anything. A press is not from before its batch, nor from
before what the same device pressed earlier; and what ends a wait, such as a reading, was not made earlier than it
came in, unless the device is known to have been there by then.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import Final

from batches.models import Event
from batches.schemas import NewEvent

_ENDS_A_WAIT: Final = ("read", "done", "skipped")


def pressed_at(event: NewEvent, begun_at: datetime, earlier: Iterable[Event], now: datetime) -> datetime:
    """Return when a press was made.

    Parameters
    ----------
    begun_at : when its batch was begun; earlier : what was kept of that batch before; now : when it came in
    """
    own = [one for one in earlier if event.device and one.device == event.device]
    said = now - timedelta(milliseconds=event.ago_ms)
    if event.kind in _ENDS_A_WAIT and not any((one.arrived_at or one.at) <= said for one in own):
        said = now
    least = max([begun_at, *(one.at for one in own if one.counter <= event.counter)])
    most = min([now, *(one.at for one in own if one.counter > event.counter)])
    return max(least, min(said, most))
