"""One table over all endpoints: who gets in, and that no kitchen reaches another's rows."""

from __future__ import annotations

from django.test import Client

from batches.models import Event
from config.api import PREFIX, api
from mixes.models import Mix
from testing.endpoint_case import GUEST, OPEN, PLACE, UNDESCRIBED, EndpointCase, body_of, endpoints, routes


class PermissionsTest(EndpointCase):
    """Walks every endpoint there is, so that a new one cannot be forgotten."""

    def test_signed_out_gets_nothing(self) -> None:
        for method, path in endpoints():
            if (method, path) not in OPEN:
                with self.subTest(method=method, path=path):
                    status, answer = self.send(method, self.filled(path), body_of(method, path), Client())
                    self.assertEqual(status, 401)
                    self.assertEqual(answer["detail"], "You are not signed in.")

    def test_signed_in_gets_what_is_theirs(self) -> None:
        for method, path in sorted(endpoints(), key=lambda endpoint: endpoint == ("DELETE", "/api/v1/session")):
            if (method, path) not in OPEN:
                with self.subTest(method=method, path=path):
                    status, _ = self.send(method, self.filled(path), body_of(method, path))
                    self.assertIn(status, (200, 201, 202, 204))

    def test_another_kitchens_rows_are_not_there(self) -> None:
        for method, path in endpoints():
            if "{" in path.removeprefix(PLACE):
                with self.subTest(method=method, path=path):
                    status, _ = self.send(method, self.filled(path, theirs=True), body_of(method, path))
                    self.assertEqual(status, 404)
        self.their_mix.refresh_from_db()
        self.assertEqual((self.their_mix.name, self.their_mix.put_away), ("theirs milk ice", False))
        self.assertFalse(Event.objects.filter(batch=self.their_batch).exists())

    def test_another_kitchen_is_not_there_whatever_is_asked_of_it(self) -> None:
        for method, path in endpoints():
            if path.startswith(PLACE):
                for kitchen in ("theirs", "nobodys"):
                    with self.subTest(method=method, path=path, kitchen=kitchen):
                        place = self.filled(path).replace("/kitchens/ours", f"/kitchens/{kitchen}")
                        status, answer = self.send(method, place, body_of(method, path))
                        self.assertEqual((status, answer["type"]), (404, "/problems/not-found"))

    def test_what_the_description_leaves_out_is_guarded_too(self) -> None:
        described = set(api.get_openapi_schema(path_prefix=PREFIX)["paths"])
        self.assertEqual({path for path in routes() if path not in described}, set(UNDESCRIBED))
        for path in UNDESCRIBED:
            if path.startswith(PLACE):
                ours, theirs = self.filled(path + "/file"), self.filled(path + "/file", theirs=True)
                self.assertEqual(self.client.get(ours.removesuffix("/file")).status_code, 200)
                self.assertEqual(self.client.get(theirs.removesuffix("/file")).status_code, 404)
                self.assertEqual(Client().get(ours.removesuffix("/file")).status_code, 401)

    def test_lists_hold_only_our_own(self) -> None:
        for path, key, ours in (
            ("/machines", "name", "ours churn"),
            (f"/mixes/{self.our_mix.pk}/notes", "text", "of ours"),
            ("/batches", "mix_name", "ours milk ice"),
            ("/lots", "name", "ours syrup"),
            ("/plans", "name", "ours day"),
        ):
            _, rows = self.send("GET", path)
            items = rows if isinstance(rows, list) else rows["items"]
            self.assertEqual([row[key] for row in items], [ours])
        self.assertEqual([row["name"] for row in self.send("GET", "/mixes")[1]["items"]], ["ours milk ice"])
        found = self.send("GET", "/ingredients?find=syrup&own=true")[1]["items"]
        self.assertEqual([row["name"] for row in found], ["ours syrup"])
        self.assertNotIn("theirs", self.send("GET", "/ingredients.csv")[1])

    def test_their_ingredients_cannot_go_into_our_mix_or_preparation(self) -> None:
        slug = "theirs-syrup"
        lines = [{"ingredient": slug, "typed": "10"}]
        for method, path, body in (
            ("POST", "/preparations", {"name": "Stolen", "lines": lines}),
            ("POST", "/mixes/recipes", {"name": "Stolen", "lines": lines}),
            ("PUT", f"/mixes/{self.our_mix.pk}", self.draft(lines=lines)),
        ):
            with self.subTest(path=path):
                status, answer = self.send(method, path, body)
                self.assertEqual(status, 422)
                self.assertIn("no ingredient", answer["detail"])

    def test_their_mix_cannot_be_copied(self) -> None:
        status, _ = self.send("POST", "/mixes", {"name": "Stolen", "copy_of": self.their_mix.pk})
        self.assertEqual(status, 404)
        self.assertFalse(Mix.objects.of_all_kitchens().filter(name="Stolen").exists())

    def test_changes_need_the_csrf_token(self) -> None:
        strict = Client(enforce_csrf_checks=True)
        strict.force_login(self.ours, backend="kitchens.sign_in.PersonBackend")
        for method, path in endpoints():
            if method != "GET" and (method, path) not in GUEST:
                with self.subTest(method=method, path=path):
                    status, _ = self.send(method, self.filled(path), body_of(method, path), strict)
                    self.assertEqual(status, 403)
