"""Nobody prepares a database while somebody else does."""

from __future__ import annotations

import time
from threading import Event, Thread, Timer

from django.db import connections
from django.test import TransactionTestCase

from config.management.commands.prepare import _alone


class AloneTest(TransactionTestCase):
    """Two starts at once: one whose launcher was killed, and the next."""

    def test_the_second_waits_for_the_first(self) -> None:
        begun, over = Event(), Event()

        def first() -> None:
            with _alone():
                begun.set()
                over.wait(10)
            connections.close_all()

        thread = Thread(target=first)
        thread.start()
        begun.wait(10)
        since = time.monotonic()
        Timer(0.3, over.set).start()
        with _alone():
            self.assertTrue(over.is_set())
        self.assertGreaterEqual(time.monotonic() - since, 0.25)
        thread.join()
