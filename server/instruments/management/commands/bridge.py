"""`bridge`: hold the connections to the kitchens' instruments until told to end."""

from __future__ import annotations

import asyncio
from contextlib import suppress
from pathlib import Path
from signal import SIGINT, SIGTERM
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from instruments.bridge import Bridge
from instruments.connections import read_addresses
from instruments.models import Instrument
from jalebi_core.model.errors import DeviceError


class Command(BaseCommand):
    """The bridge of this installation; there is one."""

    help = __doc__ or ""

    def handle(self, *_args: Any, **_options: Any) -> None:
        try:
            addresses = read_addresses([Path(one) for one in settings.DEVICE_FILES])
        except DeviceError as error:
            raise CommandError(str(error)) from None
        Instrument.objects.of_all_kitchens().update(connected=False)
        try:
            asyncio.run(_until_told(Bridge(addresses)))
        finally:
            Instrument.objects.of_all_kitchens().update(connected=False)


async def _until_told(bridge: Bridge) -> None:
    running = asyncio.create_task(bridge.run())
    for number in (SIGINT, SIGTERM):
        asyncio.get_running_loop().add_signal_handler(number, running.cancel)
    with suppress(asyncio.CancelledError):
        await running
