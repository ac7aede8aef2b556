"""A kitchen's own settings, and people in their kitchens."""

from __future__ import annotations

from kitchens.models import Kitchen, Person
from kitchens.sign_in import PersonBackend
from testing.kitchen_case import KitchenCase


class SettingsTest(KitchenCase):
    """Freezer and spoons."""

    def test_one_setting_leaves_the_other_alone(self) -> None:
        self.change_kitchen({"spoons": "imperial"})
        status, me = self.change_kitchen({"freezer_c": -21.5})
        self.assertEqual((status, me["freezer_c"], me["spoons"]), (200, -21.5, "imperial"))

    def test_what_another_changed_meanwhile_is_not_overwritten(self) -> None:
        seen = self.send("GET", "")[1]["version"]
        self.change_kitchen({"spoons": "imperial", "aims": {"gelato": {"fat": [6, 9]}}})
        body = {"version": seen, "freezer_c": -21.5, "aims": {"gelato": {"msnf": [8, 10]}}}
        self.assertEqual(self.send("PATCH", "", body)[0], 200)
        for changes in ({"spoons": "us"}, {"aims": {"gelato": {"fat": None}}}):
            status, answer = self.send("PATCH", "", {"version": seen, **changes})
            self.assertEqual(status, 412)
            self.assertIn("the same setting", answer["detail"])
        me = self.send("GET", "")[1]
        self.assertEqual((me["spoons"], me["freezer_c"]), ("imperial", -21.5))
        self.assertEqual(me["aims"], {"gelato": {"fat": [6, 9], "msnf": [8, 10]}})

    def test_an_aim_is_taken_back_and_the_others_stay(self) -> None:
        self.change_kitchen({"aims": {"gelato": {"fat": [6, 9], "msnf": [8, 10]}}})
        self.assertEqual(
            self.change_kitchen({"aims": {"gelato": {"fat": None}}})[1]["aims"], {"gelato": {"msnf": [8, 10]}}
        )
        self.assertEqual(self.change_kitchen({"aims": {"gelato": {"msnf": None}}})[1]["aims"], {})

    def test_settings_that_cannot_be_are_refused_and_change_nothing(self) -> None:
        for settings in ({"freezer_c": 5}, {"freezer_c": -80}, {"freezer_c": "cold"}, {"spoons": "wooden"}):
            with self.subTest(settings=settings):
                self.assertEqual(self.change_kitchen(settings)[0], 422)
        self.assertEqual(self.send("GET", "")[1]["freezer_c"], -18)

    def test_cabinet_scale_and_ingredients_that_may_come_in_are_kept(self) -> None:
        body = {"cabinet_c": -13.5, "scale_g": 0.1, "may_come_in": ["fructose", "inulin"]}
        status, me = self.change_kitchen(body)
        self.assertEqual(status, 200)
        self.assertEqual({key: me[key] for key in body}, body)
        self.assertEqual(self.send("GET", "")[1], me)

    def test_odd_cabinets_scales_and_ingredients_are_refused(self) -> None:
        for settings in ({"cabinet_c": 3}, {"cabinet_c": -90}, {"scale_g": 0}, {"scale_g": -1}, {"scale_g": "fine"},
                         {"may_come_in": "sugar"}, {"may_come_in": ["\x00"]}, {"may_come_in": ["x"] * 41}):  # fmt: skip
            with self.subTest(settings=settings):
                self.assertEqual(self.change_kitchen(settings)[0], 422)

    def test_what_ships_speaks_in_the_kitchens_degrees(self) -> None:
        self.change_kitchen({"temperature_unit": "F"})
        bucket = self.send("POST", "/machines", {"name": "Bucket", "kind": "ice-and-salt", "bowl_l": 4})[1]
        self.assertIn("colder than 5 °F", bucket["caution"])
        yolk = self.send("GET", "/ingredients/egg-yolk")[1]["facts"]["if_not_heated"]
        self.assertIn("180 °F", yolk)
        begun = self.send("POST", "/mixes", {"name": "New", "style": "frozen-custard", "approach": "cooked-custard"})[1]
        self.assertIn("Heat milk, cream, powders and half of the sugar to 158 °F.", str(begun["method"]))
        self.assertNotIn("°C", f"{bucket} {begun['method']}")

    def test_another_kitchen_keeps_its_own(self) -> None:
        self.change_kitchen({"freezer_c": -25})
        self.assertEqual(Kitchen.objects.get(pk=self.theirs.kitchen_id).freezer_c, -18)

    def test_the_kitchens_freezer_is_the_one_that_mixes_are_judged_for(self) -> None:
        before = self.send("GET", "/mixes")[1]["items"][0]
        self.change_kitchen({"freezer_c": -8})
        after = self.send("GET", "/mixes")[1]["items"][0]
        self.assertIn("−18 °C freezer", before["verdict"])
        self.assertIn("−8 °C freezer", after["verdict"])
        self.assertEqual(before["scoop_c"], after["scoop_c"])


class PersonTest(KitchenCase):
    """The one query of every request says the same as the models do."""

    def test_a_signed_in_person_is_whole_and_comes_with_the_kitchen(self) -> None:
        with self.assertNumQueries(1):
            person = PersonBackend().get_user(self.ours.pk)
            assert person is not None
            kitchen = person.kitchen
        expected = Person.objects.select_related("kitchen").get(pk=self.ours.pk)
        for field in Person._meta.concrete_fields:
            self.assertEqual(getattr(person, field.attname), getattr(expected, field.attname))
        for field in Kitchen._meta.concrete_fields:
            self.assertEqual(getattr(kitchen, field.attname), getattr(expected.kitchen, field.attname))

    def test_nobody_and_people_who_left_are_nobody(self) -> None:
        self.assertIsNone(PersonBackend().get_user(0))
        Person.objects.filter(pk=self.ours.pk).update(is_active=False)
        self.assertIsNone(PersonBackend().get_user(self.ours.pk))
