"""The list of mixes: found, marked, paged, and each as its own analysis says."""

from __future__ import annotations

from typing import Any

from batches.record import begin_batch
from demo.kitchen import bring_examples
from mixes.drafts import new_mix
from mixes.models import Mix
from testing.kitchen_case import LINES, KitchenCase


class ListingTest(KitchenCase):
    """What the first page of the Bench asks."""

    def listed(self, query: str = "") -> list[str]:
        status, page = self.send("GET", f"/mixes?{query}")
        self.assertEqual(status, 200, page)
        return [mix["name"] for mix in page["items"]]

    def mark(self, mix: Mix, **marks: Any) -> None:
        self.assertEqual(self.send("PATCH", f"/mixes/{mix.pk}", marks)[0], 204)

    def test_each_says_what_the_bench_says_of_it(self) -> None:
        bring_examples(self.ours.kitchen)
        for mix in self.send("GET", "/mixes")[1]["items"]:
            whole = self.send("GET", f"/mixes/{mix['id']}")[1]
            draft = {key: whole[key] for key in ("lines", "style", "overrun_pct", "aims")}
            analysis = self.send("POST", "/analyses", draft)[1]["analysis"]
            self.assertEqual(mix["verdict"], analysis["verdict"])
            self.assertAlmostEqual(mix["mass_g"], analysis["mass_g"])
            self.assertEqual(
                {part["key"]: round(part["grams"], 6) for part in mix["strata"]},
                {part["key"]: round(part["grams"], 6) for part in analysis["strata"]},
            )

    def test_words_are_looked_for_in_names_and_tags(self) -> None:
        plum = new_mix(self.ours.kitchen, "Plum and bay", "sorbet", None)
        self.mark(plum, tags=["Autumn ", "fruit", "autumn"])
        self.assertEqual(self.listed("find=PLUM"), ["Plum and bay"])
        self.assertEqual(self.listed("find=bay autumn"), ["Plum and bay"])
        self.assertEqual(self.listed("find=bay spring"), [])
        self.assertEqual(self.listed("tag=fruit"), ["Plum and bay"])
        self.assertEqual(self.listed("style=sorbet"), ["Plum and bay"])
        self.assertEqual(self.send("GET", "/tags"), (200, ["autumn", "fruit"]))

    def test_stars_come_first_and_the_archive_stands_apart(self) -> None:
        zabaione = new_mix(self.ours.kitchen, "Zabaione", None, self.our_mix.pk)
        self.mark(zabaione, starred=True)
        self.assertEqual(self.listed(), ["Zabaione", "ours milk ice"])
        self.assertEqual(self.listed("starred=true"), ["Zabaione"])
        self.mark(zabaione, archived=True)
        self.assertEqual((self.listed(), self.listed("archived=true")), (["ours milk ice"], ["Zabaione"]))
        self.mark(zabaione, archived=False)
        self.assertIn("Zabaione", self.listed())

    def test_by_when_they_were_made_last(self) -> None:
        new_mix(self.ours.kitchen, "Aaa never made", None, None)
        second = new_mix(self.ours.kitchen, "Zzz made now", None, self.our_mix.pk)
        begin_batch(self.ours, second.pk)
        self.assertEqual(self.listed("order=made"), ["Zzz made now", "ours milk ice", "Aaa never made"])

    def test_a_page_at_a_time(self) -> None:
        for number in range(5):
            new_mix(self.ours.kitchen, f"mix {number}", None, None)
        page = self.send("GET", "/mixes?limit=2&offset=2")[1]
        self.assertEqual(([mix["name"] for mix in page["items"]], page["total"]), (["mix 2", "mix 3"], 6))

    def test_marking_is_no_edit(self) -> None:
        before = self.send("GET", f"/mixes/{self.our_mix.pk}")[1]
        self.mark(self.our_mix, starred=True, tags=["x"])
        after = self.send("GET", f"/mixes/{self.our_mix.pk}")[1]
        self.assertEqual((before["version"], before["changed_at"]), (after["version"], after["changed_at"]))

    def test_nonsense_is_refused(self) -> None:
        for query in ("order=taste", "limit=0", "limit=1000", "offset=-1", "find=%00", "tag=%00"):
            self.assertEqual(self.send("GET", f"/mixes?{query}")[0], 422, query)
        for tags in ([""], ["x" * 41], ["\x00"], [" "]):
            self.assertEqual(self.send("PATCH", f"/mixes/{self.our_mix.pk}", {"tags": tags})[0], 422)

    def test_examples_come_once_and_can_be_opened(self) -> None:
        self.assertEqual(self.send("POST", "/examples"), (201, {"mixes": 8}))
        self.assertEqual(self.send("POST", "/examples"), (201, {"mixes": 0}))
        self.assertIn("Smoked tea custard", self.listed())


class NotesTest(KitchenCase):
    """The kitchen's own notes beside a mix."""

    def texts(self) -> list[str]:
        return [note["text"] for note in self.send("GET", f"/mixes/{self.our_mix.pk}/notes")[1]["items"]]

    def test_notes_of_the_mix_of_what_goes_in_and_of_everything(self) -> None:
        other = new_mix(self.ours.kitchen, "Other", None, None)
        for body in (
            {"text": "of the mix", "mix": self.our_mix.pk},
            {"text": "of sugar", "ingredient": "sugar"},
            {"text": "of honey", "ingredient": "honey"},
            {"text": "of another", "mix": other.pk},
        ):
            self.assertEqual(self.send("POST", "/notes", body)[0], 201)
        self.assertEqual(self.texts(), ["of sugar", "of the mix", "of ours"])
        about = [note["about"] for note in self.send("GET", f"/mixes/{self.our_mix.pk}/notes")[1]["items"]]
        self.assertEqual(about, ["Table sugar", "ours milk ice", "everything made here"])

    def test_a_note_can_be_removed_and_says_who_wrote_it(self) -> None:
        note = self.send("POST", "/notes", {"text": "  gone soon \n"})[1]
        self.assertEqual((note["text"], note["written_by"]), ("gone soon", "ours"))
        self.assertEqual(self.send("DELETE", f"/notes/{note['id']}")[0], 204)
        self.assertEqual(self.texts(), ["of ours"])

    def test_no_note_about_what_is_not_ours(self) -> None:
        for body in ({"text": "x", "mix": self.their_mix.pk}, {"text": "x", "ingredient": "no-such"}):
            self.assertEqual(self.send("POST", "/notes", body)[0], 404)
        for text in ("", "   ", "\x00"):
            self.assertEqual(self.send("POST", "/notes", {"text": text})[0], 422)


class RevisionTreeTest(KitchenCase):
    """Named points that branch, compare and say what was made of them."""

    def keep(self, name: str, note: str = "") -> Any:
        status, kept = self.send("POST", f"/mixes/{self.our_mix.pk}/revisions", {"name": name, "note": note})
        self.assertEqual(status, 201, kept)
        return kept

    def save(self, sugar: str, based_on: int | None) -> None:
        self.our_mix.refresh_from_db()
        lines = [*LINES[:-1], {**LINES[-1], "typed": sugar}]
        status, answer = self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(lines=lines, based_on=based_on))
        self.assertEqual(status, 200, answer)

    def test_going_back_and_on_makes_a_branch(self) -> None:
        self.save("150", 1)
        self.keep("less sweet", "for the trial in March\nsecond line")
        self.save("170", 1)
        self.keep("sweeter")
        tree = {one["number"]: one for one in self.send("GET", f"/mixes/{self.our_mix.pk}/revisions")[1]["items"]}
        self.assertEqual({number: one["parent"] for number, one in tree.items()}, {1: None, 2: 1, 3: 1})
        self.assertEqual(tree[2]["note"], "for the trial in March\nsecond line")
        batches = self.send("GET", f"/mixes/{self.our_mix.pk}/batches")[1]["items"]
        self.assertEqual([(batch["id"], batch["revision"]) for batch in batches], [(self.our_batch.pk, 1)])

    def test_what_is_made_after_going_back_is_made_of_the_revision_gone_back_to(self) -> None:
        self.save("150", 1)
        self.keep("less sweet")
        self.save("160", 1)
        status, batch = self.send("POST", f"/mixes/{self.our_mix.pk}/batches")
        self.assertEqual(status, 201, batch)
        made = self.send("GET", f"/mixes/{self.our_mix.pk}/batches")[1]["items"]
        self.assertEqual([(one["id"], one["revision"]) for one in made], [(batch["id"], 1), (self.our_batch.pk, 1)])

    def test_any_two_can_be_compared(self) -> None:
        self.save("150", 1)
        self.keep("less sweet")
        path = f"/mixes/{self.our_mix.pk}/revisions"
        found = self.send("GET", f"{path}/1?upto=2")[1]
        self.assertIn("Table sugar −10 g", found["message"])
        self.assertIn("Table sugar +10 g", self.send("GET", f"{path}/2?upto=1")[1]["message"])
        self.assertEqual(self.send("GET", f"{path}/1?upto=9")[0], 404)

    def test_what_another_person_changed_is_shown_against_ours(self) -> None:
        self.save("150", 1)
        status, found = self.send("POST", f"/mixes/{self.our_mix.pk}/differences", {"lines": LINES})
        self.assertEqual(status, 200)
        self.assertEqual(found["changes"], [{"name": "Table sugar", "before_g": 150, "after_g": 160}])
        empty = self.send("POST", f"/mixes/{self.our_mix.pk}/differences", {"lines": []})[1]
        self.assertEqual(empty, {"changes": [], "message": "This draft weighs nothing."})

    def test_a_note_that_cannot_be_shown_is_refused(self) -> None:
        body = {"name": "x", "note": "\x00"}
        self.assertEqual(self.send("POST", f"/mixes/{self.our_mix.pk}/revisions", body)[0], 422)
