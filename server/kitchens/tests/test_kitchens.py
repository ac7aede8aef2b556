"""A kitchen's own settings, and people in their kitchens."""

from __future__ import annotations

from kitchens.models import Kitchen, Person
from kitchens.sign_in import PersonBackend
from testing.kitchen_case import KitchenCase


class SettingsTest(KitchenCase):
    """Freezer and spoons."""

    def test_one_setting_leaves_the_other_alone(self) -> None:
        self.send("PATCH", "/api/kitchen", {"spoons": "imperial"})
        status, me = self.send("PATCH", "/api/kitchen", {"freezer_c": -21.5})
        self.assertEqual((status, me["freezer_c"], me["spoons"]), (200, -21.5, "imperial"))

    def test_settings_that_cannot_be_are_refused_and_change_nothing(self) -> None:
        for settings in ({"freezer_c": 5}, {"freezer_c": -80}, {"freezer_c": "cold"}, {"spoons": "wooden"}):
            with self.subTest(settings=settings):
                self.assertEqual(self.send("PATCH", "/api/kitchen", settings)[0], 422)
        self.assertEqual(self.send("GET", "/api/session")[1]["freezer_c"], -18)

    def test_cabinet_scale_and_goods_that_may_come_in_are_kept(self) -> None:
        body = {"cabinet_c": -13.5, "scale_g": 0.1, "may_come_in": ["fructose", "inulin"]}
        status, me = self.send("PATCH", "/api/kitchen", body)
        self.assertEqual(status, 200)
        self.assertEqual({key: me[key] for key in body}, body)
        self.assertEqual(self.send("GET", "/api/session")[1], me)

    def test_odd_cabinets_scales_and_goods_are_refused(self) -> None:
        for settings in ({"cabinet_c": 3}, {"cabinet_c": -90}, {"scale_g": 0}, {"scale_g": -1}, {"scale_g": "fine"},
                         {"may_come_in": "sugar"}, {"may_come_in": ["\x00"]}, {"may_come_in": ["x"] * 41}):  # fmt: skip
            with self.subTest(settings=settings):
                self.assertEqual(self.send("PATCH", "/api/kitchen", settings)[0], 422)

    def test_another_kitchen_keeps_its_own(self) -> None:
        self.send("PATCH", "/api/kitchen", {"freezer_c": -25})
        self.assertEqual(Kitchen.objects.get(pk=self.theirs.kitchen_id).freezer_c, -18)

    def test_the_kitchens_freezer_is_the_one_that_mixes_are_judged_for(self) -> None:
        before = self.send("GET", "/api/mixes")[1]["mixes"][0]
        self.send("PATCH", "/api/kitchen", {"freezer_c": -8})
        after = self.send("GET", "/api/mixes")[1]["mixes"][0]
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
