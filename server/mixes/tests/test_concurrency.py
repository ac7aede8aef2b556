"""Several people at once on one mix: nothing acknowledged is lost, nothing overwritten unseen, no numbers clash."""

from __future__ import annotations

import threading
from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from django.db import connection
from django.test import TransactionTestCase

from api.problems import ConflictError
from batches.models import Batch
from batches.record import begin_batch
from kitchens.models import Person
from mixes.drafts import save_draft
from mixes.list_schemas import Marks
from mixes.listing import set_marks
from mixes.models import Mix, Revision
from mixes.revisions import keep_revision
from mixes.schemas import DraftToSave
from testing.kitchen_case import LINES, filled_kitchen

PEOPLE = 4
SAVES = 6


class TogetherTest(TransactionTestCase):
    """Each test lets threads begin at the same moment, each with a connection of its own."""

    person: Person
    mix: Mix

    def setUp(self) -> None:
        self.person, self.mix, _ = filled_kitchen("busy")

    def together(self, *jobs: Callable[[], object]) -> None:
        """Run jobs at once; the first failure of one of them fails the test."""
        ready, failures = threading.Barrier(len(jobs)), list[BaseException]()

        def run(job: Callable[[], object]) -> None:
            ready.wait()
            try:
                job()
            except BaseException as failure:
                failures.append(failure)
            finally:
                connection.close()

        threads = [threading.Thread(target=run, args=(job,)) for job in jobs]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        if failures:
            raise failures[0]

    def save(self, sugar: int, version: int) -> int:
        """Save the mix with so much sugar as somebody who saw a version, and return the new one."""
        lines: Sequence[dict[str, Any]] = [*LINES[:-1], {**LINES[-1], "typed": str(sugar)}]
        draft = {"name": self.mix.name, "lines": lines}
        return save_draft(self.person.kitchen, self.mix.pk, version, DraftToSave.model_validate(draft)).version

    def test_people_who_look_before_they_save_again_all_get_their_turn(self) -> None:
        acknowledged: list[tuple[int, int]] = []

        def work(first: int) -> None:
            for sugar in range(first, first + SAVES):
                while True:
                    seen = Mix.objects.of_all_kitchens().get(pk=self.mix.pk).version
                    try:
                        acknowledged.append((self.save(sugar, seen), sugar))
                        break
                    except ConflictError:
                        continue

        before = Mix.objects.of_all_kitchens().get(pk=self.mix.pk).version
        self.together(*(partial(work, 100 * at) for at in range(1, PEOPLE + 1)))
        after = Mix.objects.of_all_kitchens().get(pk=self.mix.pk)
        versions = sorted(version for version, _ in acknowledged)
        self.assertEqual(versions, list(range(before + 1, before + 1 + PEOPLE * SAVES)))
        last = max(acknowledged)
        self.assertEqual(after.version, last[0])
        self.assertEqual(after.lines.get(ingredient__slug="sugar").typed, str(last[1]))

    def test_a_mix_is_never_half_of_one_save_and_half_of_another(self) -> None:
        def write(sugar: int) -> None:
            try:
                self.save(sugar, self.mix.version)
            except ConflictError:
                return

        self.together(*(partial(write, sugar) for sugar in (111, 222, 333)))
        lines = list(Mix.objects.of_all_kitchens().get(pk=self.mix.pk).lines.values_list("position", "typed"))
        self.assertEqual([position for position, _ in lines], list(range(1, len(LINES) + 1)))
        self.assertIn(lines[-1][1], ("111", "222", "333"))

    def test_revisions_kept_at_once_have_numbers_of_their_own_and_a_line_of_parents(self) -> None:
        names = [f"by {at}" for at in range(PEOPLE)]
        self.together(*(partial(keep_revision, self.person, self.mix.pk, name) for name in names))
        kept = Revision.objects.of_all_kitchens().filter(mix=self.mix).order_by("number")
        self.assertEqual([one.number for one in kept], [1, 2, 3, 4, 5])
        self.assertEqual([one.parent for one in kept], [None, 1, 2, 3, 4])
        self.assertEqual({one.name for one in kept[1:]}, set(names))

    def test_a_star_a_tag_and_a_batch_survive_a_save_at_the_same_moment(self) -> None:
        for _ in range(5):
            Mix.objects.of_all_kitchens().filter(pk=self.mix.pk).update(starred=False, tags=[], made_at=None)
            seen = Mix.objects.of_all_kitchens().get(pk=self.mix.pk)
            self.together(
                partial(self.save, 150, seen.version),
                partial(set_marks, seen, Marks(starred=True, tags=["tried"])),
                partial(begin_batch, self.person, self.mix.pk),
            )
            after = Mix.objects.of_all_kitchens().get(pk=self.mix.pk)
            self.assertEqual((after.starred, after.tags, after.version), (True, ["tried"], seen.version + 1))
            self.assertIsNotNone(after.made_at)

    def test_batches_begun_at_once_are_numbered_apart(self) -> None:
        self.together(*(partial(begin_batch, self.person, self.mix.pk) for _ in range(PEOPLE)))
        numbers = Batch.objects.of_all_kitchens().order_by("number").values_list("number", flat=True)
        self.assertEqual(list(numbers), [1, 2, 3, 4, 5])
