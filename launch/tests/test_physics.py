"""The physics document: its computed tables are those of the core as it is now."""

from __future__ import annotations

from unittest import TestCase

from launch.physics import DOCUMENT, with_tables


class PhysicsTest(TestCase):
    """What `./jalebi physics` writes."""

    def test_no_table_of_the_document_is_stale(self) -> None:
        text = DOCUMENT.read_text(encoding="utf-8")
        self.assertEqual(with_tables(text), text, "write it anew with ./jalebi physics")

    def test_a_stale_table_is_made_anew_and_the_rest_stays(self) -> None:
        stale = "before\n<!-- solubility -->\nold\n<!-- end -->\nafter"
        fresh = with_tables(stale)
        self.assertIn("| erythritol | 61.0 |", fresh)
        self.assertTrue(fresh.startswith("before\n") and fresh.endswith("\nafter"))
        self.assertNotIn("old", fresh)
