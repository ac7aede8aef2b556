"""The draft of a label over the wire: by region, with what is not stated named."""

from __future__ import annotations

from testing.kitchen_case import LINES, KitchenCase


class LabelsTest(KitchenCase):
    """Our milk ice on a label."""

    def test_a_label_is_drafted_by_the_rules_of_the_kitchen_or_of_another_region(self) -> None:
        status, found = self.send("POST", "/label-drafts", {"lines": LINES, "net_ml": 500, "serving_ml": 100})
        self.assertEqual(status, 200, found)
        self.assertEqual((found["region"], found["net"]), ("eu", "500 ml"))
        self.assertIn("whole **milk**, cream (**milk**), sugar", found["ingredients"])
        self.assertIn("check it with your food authority", found["draft"])
        self.assertEqual([one["missing"] for one in found["rows"] if one["missing"]], [])
        _, us = self.send("POST", "/label-drafts", {"lines": LINES, "region": "us"})
        self.assertEqual(us["statement"], "Contains: Milk")
        self.assertEqual(next(one for one in us["rows"] if one["key"] == "fat")["dv"][-1], "%")

    def test_what_is_not_stated_is_named_and_an_empty_draft_has_no_label(self) -> None:
        self.assertEqual(self.send("POST", "/label-drafts", {"lines": []}), (200, None))
        syrup = {"ingredient": "ours-syrup", "typed": "100", "unit": "g", "stage": "pot"}
        _, found = self.send("POST", "/label-drafts", {"lines": [*LINES, syrup]})
        missing = {name for one in found["rows"] for name in one["missing"]}
        self.assertLessEqual(missing, {"ours syrup"})

    def test_canada_is_told_that_its_rules_are_not_here_yet(self) -> None:
        self.assertEqual(self.change_kitchen({"region": "ca"})[0], 200)
        _, found = self.send("POST", "/label-drafts", {"lines": LINES})
        self.assertEqual(found["region"], "us")
        self.assertIn("no rules for Canada", found["cautions"][0])
