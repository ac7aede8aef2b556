"""Answers as tasters give them, in the codes of the cups before them."""

from __future__ import annotations

import pytest

from jalebi_core.model.errors import TastingError
from jalebi_core.tasting.coded_answers import Said, read_answers
from jalebi_core.tasting.serving import Serving

SERVED = Serving("Ada", 1, ("A", "B", "A"), ("417", "582", "963"))


@pytest.mark.parametrize(
    ("kind", "serving", "picked", "right"),
    [
        ("triangle", SERVED, ("582",), True),
        ("triangle", SERVED, ("963",), False),
        ("3-afc", SERVED, ("582",), True),
        ("duo-trio", Serving("Ada", 1, ("B", "A", "B"), ("R", "417", "582")), ("582",), True),
        ("duo-trio", Serving("Ada", 1, ("B", "A", "B"), ("R", "417", "582")), ("417",), False),
        ("tetrad", Serving("Ada", 1, ("A", "B", "B", "A"), ("1", "2", "3", "4")), ("1", "4"), True),
        ("tetrad", Serving("Ada", 1, ("A", "B", "B", "A"), ("1", "2", "3", "4")), ("1", "2"), False),
    ],
)
def test_codes_say_whether_a_taster_was_right(
    kind: str, serving: Serving, picked: tuple[str, ...], right: bool
) -> None:
    (answer,) = read_answers(kind, serving, Said(picked))
    assert answer.correct is right


def test_codes_say_which_was_picked_put_in_order_and_liked() -> None:
    two, three = Serving("Ada", 1, ("B", "A"), ("417", "582")), Serving("Ada", 1, ("C", "A", "B"), ("1", "2", "3"))
    (picked,) = read_answers("preference", two, Said(("582",)))
    (paired,) = read_answers("pairs", two, Said(("417",)))
    (ordered,) = read_answers("ranking", three, Said(("2", "3", "1")))
    liked = read_answers("liking", two, Said(liking={"417": 4, "582": 8}, marks={"582": {"sweetness": 1}}))
    assert picked.picked == "A"
    assert (paired.a, paired.b, paired.picked) == ("B", "A", "B")
    assert ordered.order == ("A", "B", "C")
    assert [(one.variant, one.liking, dict(one.marks)) for one in liked] == [("B", 4, {}), ("A", 8, {"sweetness": 1})]


@pytest.mark.parametrize(
    ("kind", "said"),
    [
        ("triangle", Said(("000",))),
        ("triangle", Said()),
        ("triangle", Said(("417", "582"))),
        ("ranking", Said(("417", "582"))),
        ("liking", Said(liking={"417": 4})),
        ("tetrad", Said(("417", "417"))),
    ],
)
def test_what_is_no_answer_in_codes_is_refused(kind: str, said: Said) -> None:
    with pytest.raises(TastingError):
        read_answers(kind, SERVED, said)
