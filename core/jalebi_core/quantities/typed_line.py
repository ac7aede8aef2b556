"""One line of a recipe as people write it: the amount, what it is of, and what is said beside."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Final

from jalebi_core.quantities.amounts import GRAMS_PER_UNIT, NUMBER, UNIT_SPELLINGS

LONGEST_LINE: Final = 300
"""Characters of a line that are read: the longest that people write have 200, and patterns see no more than this."""
_WORDS: Final = {
    "a": "1", "an": "1", "one": "1", "two": "2", "three": "3", "four": "4", "five": "5", "six": "6", "seven": "7",
    "eight": "8", "nine": "9", "ten": "10", "eleven": "11", "twelve": "12", "half": "1/2", "quarter": "1/4",
}  # fmt: skip
_CONTAINERS: Final = {
    "tin": "tin", "tins": "tin", "can": "tin", "cans": "tin", "jar": "jar", "jars": "jar", "bar": "bar", "bars": "bar",
    "packet": "packet", "packets": "packet", "package": "packet", "packages": "packet", "pack": "packet",
    "carton": "carton", "cartons": "carton", "tub": "tub", "tubs": "tub", "bottle": "bottle", "bottles": "bottle",
    "sachet": "sachet", "sachets": "sachet", "envelope": "sachet", "envelopes": "sachet", "bag": "bag", "bags": "bag",
    "box": "box", "boxes": "box", "block": "block", "blocks": "block", "stick": "stick", "sticks": "stick",
    "sheet": "leaf", "sheets": "leaf", "handful": "handful", "handfuls": "handful", "bunch": "bunch",
    "bunches": "bunch", "sprig": "sprig", "sprigs": "sprig", "knob": "knob", "splash": "splash", "shot": "shot",
    "shots": "shot",
}  # fmt: skip
"""What ingredients come in, by the name under which an ingredient knows the weight of one."""
_MORE_THAN_ONE: Final = re.compile(r"(?:[2-9]|[1-9][0-9]+|1\s[0-9¼½¾⅓⅔]|1[.,][0-9])(?![0-9]*/)|[0-9]+\s[0-9]+/|.*–")
_ABBREVIATED: Final = frozenset(("tsp", "tbsp", "fl oz", *GRAMS_PER_UNIT, "ml", "cl", "dl", "l"))
_CASED: Final = {"T": "tbsp", "T.": "tbsp", "Tb": "tbsp", "t": "tsp", "t.": "tsp"}
_SIZES: Final = (
    r"(?:(?:heaped|heaping|level|scant|generous|rounded|large|small|medium|big|good|full|whole|about|just) )*"
)
_UNIT: Final = "|".join(sorted(map(re.escape, UNIT_SPELLINGS), key=len, reverse=True))
_CONTAINER: Final = "|".join(sorted(_CONTAINERS, key=len, reverse=True))
_WEIGHED: Final = r"g|gr|grams?|kg|oz|ounces?|lbs?|pounds?|ml|cl|dl|l|litres?|liters?|fl\.? oz|fluid ounces?"
_RANGE: Final = rf"(?P<number>{NUMBER})(?:\s*(?:-|–|—|to|or)\s*(?P<upto>{NUMBER}))?"
_PACK: Final = re.compile(
    rf"^(?P<count>{NUMBER})\s*(?:x|×|\*)?\s*\(?\s*(?:about )?(?P<weight>{NUMBER})[ -]?(?P<unit>{_WEIGHED})\.?"
    rf"(?:\s*/[^)]*)?\s*\)?[ -](?P<pack>{_CONTAINER})\b\s*(?:of )?",
    re.IGNORECASE,
)
_MEASURED: Final = re.compile(
    rf"^{_RANGE}\s*-?{_SIZES}(?P<unit>T\.?|Tb|t\.?|(?i:{_UNIT})|(?i:{_CONTAINER}))(?![A-Za-zÀ-ž'’])\.?\s*(?:(?i:of) )?"
)
_COUNTED: Final = re.compile(rf"^{_RANGE}\s+(?:of )?(?=[A-Za-zÀ-ž])")
_BESIDE: Final = re.compile(
    rf"^\s*(?:\(|/|=|\|)\s*(?:about |approx\.? |ca\.? |or )?(?P<number>{NUMBER})\s*-?(?P<unit>{_WEIGHED})\b\.?"
    rf"(?P<each> each)?[^)]*?(?:\)|(?=[A-Za-z])|$)\s*",
    re.IGNORECASE,
)
_WEIGHED_BEHIND: Final = re.compile(rf"\((?:about )?(?P<number>{NUMBER})\s?(?P<unit>g|kg|ml|oz)\)", re.IGNORECASE)
_SLASHED: Final = re.compile(rf"^\s*/\s*(?:{NUMBER})\s*-?(?:{_UNIT})\b\.?\s*", re.IGNORECASE)
_PLUS: Final = re.compile(
    rf"^(?:(?:plus|\+|and|&)\s+)?(?P<number>{NUMBER})\s*{_SIZES}(?P<unit>{_UNIT})\b\.?\s*(?:of )?", re.IGNORECASE
)
_TRAILING: Final = re.compile(rf"(?<=[\s:.…=–-])(?P<number>{NUMBER})\s*(?P<unit>{_UNIT})\.?$", re.IGNORECASE)
_LONGEST_TRAILING: Final = 40
"""Characters at the end of a line among which an amount is looked for."""
_SIGNS_BEFORE_AMOUNT: Final = " \t:.…=–-"
_NAME_BEFORE_AMOUNT: Final = re.compile(
    r"[A-Za-zÀ-ž][^0-9]*(?:\s[0-9]{1,3}(?:[.,][0-9]{1,9})?\s?%[^0-9]*)?", re.IGNORECASE
)
_JUICE: Final = re.compile(
    r"^(?:the )?(?:(?:freshly |finely )?(?:squeezed|grated) )?(?P<part>juice|zest|rind|peel|seeds?)"
    r"(?:\s*(?:and|&)\s*(?P<also>juice|zest|rind))?\s+(?:of|from)\s+(?:about )?(?P<rest>.+)$",
    re.IGNORECASE,
)
_DONE_TO_FRUIT: Final = re.compile(r"\b(?P<part>juiced|juice only|zested|zest only)\b", re.IGNORECASE)
_SMALL: Final = re.compile(
    r"^(?:a |an |one |1 )?(?:generous |good |small |large |tiny )?"
    r"(?P<unit>pinch(?:es)?|dash(?:es)?|drops?|handfuls?|splash(?:es)?|knobs?|sprigs?|bunch(?:es)?)\s+(?:of )?",
    re.IGNORECASE,
)
_UNSAID: Final = re.compile(r"\b(?:to taste|as needed|a few|some|for (?:serving|dusting|garnish))\b", re.IGNORECASE)
_HALF_OF: Final = re.compile(r"^half (?:of )?(?:a|an|the)\b|^a half\b|^half\b", re.IGNORECASE)
_AND_A_HALF: Final = re.compile(rf"^(?P<word>{'|'.join(_WORDS)}) and a half\b", re.IGNORECASE)
_DOZEN: Final = re.compile(r"^(?P<half>half )?a dozen\b|^1 dozen\b", re.IGNORECASE)
_MARKER: Final = re.compile(r"^\s*(?:(?:[•◦▪▢☐□·*–—>-]|\[[ xX]?\])\s*)+(?=\S)")
_SHARED: Final = re.compile(rf"^(?P<number>{NUMBER})\s?(?P<unit>%|ppm)\s+(?:of )?(?=[A-Za-zÀ-ž])")
_LEFT_OF_COUNT: Final = re.compile(rf"^(?:{_CONTAINER}) of ", re.IGNORECASE)
_VULGAR_CLASS: Final = "¼½¾⅓⅔⅕⅖⅗⅘⅙⅚⅛⅜⅝⅞"
_PERCENT: Final = re.compile(r"(?<![0-9])[0-9]{1,3}(?:[.,][0-9]{1,9})?\s?%")
_FRACTION_WORDS: Final = {
    "half": 1 / 2, "a half": 1 / 2, "a third": 1 / 3, "one third": 1 / 3, "a quarter": 1 / 4, "one quarter": 1 / 4,
    "a fifth": 1 / 5, "two thirds": 2 / 3, "three quarters": 3 / 4, "1/2": 1 / 2, "1/3": 1 / 3, "1/4": 1 / 4,
    "½": 1 / 2, "⅓": 1 / 3, "¼": 1 / 4, "⅔": 2 / 3, "¾": 3 / 4,
}  # fmt: skip
_REDUCED: Final = re.compile(
    r"\b(?:reduced?|cook(?:ed)? down|simmer(?:ed)? down|boil(?:ed)? down)(?: down)?(?: it)?"
    r" (?P<how>to|by) (?:about )?(?:its? )?"
    rf"(?P<share>{'|'.join(sorted(map(re.escape, _FRACTION_WORDS), key=len, reverse=True))})",
    re.IGNORECASE,
)


_OPTIONAL: Final = re.compile(r"\boptional(?:ly)?\b|\bif (?:you like|liked|desired|wanted)\b", re.IGNORECASE)
_INSTEAD: Final = re.compile(
    r"(?<![0-9])\s\(?or (?P<other>(?![0-9]*\s?(?:so|more|less)\b)[^,;()]{3,60})", re.IGNORECASE
)


@dataclass(frozen=True, slots=True)
class RecipeLine:
    """A line as read.

    ``amount`` is in the words that `amounts.read_amount` knows, empty where none is said; a bare count such
    as “4” of “4 egg yolks” has ``counted``. ``reduced_to`` is the share of its weight to which it is cooked down;
    ``instead`` what may be taken in its place, as it is said behind an “or”.
    """

    raw: str
    amount: str
    name: str
    note: str = ""
    counted: bool = False
    reduced_to: float | None = None
    optional: bool = False
    instead: str = ""


def read_line(text: str) -> RecipeLine:
    """Read one line; whatever it holds, something comes back, with an empty amount where none could be read.

    Of a line longer than `LONGEST_LINE` the beginning is read.

    >>> read_line("1 ½ cups (360 ml) heavy cream, cold").amount
    '360 ml'
    """
    raw = " ".join(text[:LONGEST_LINE].split())
    body = _MARKER.sub("", raw).strip()
    body = _numbered(re.sub(rf"(?<=[0-9])(?=[{_VULGAR_CLASS}])", " ", body))
    line = (
        _shared(body)
        or _juice(body)
        or _small(body)
        or _packed(body)
        or _measured(body)
        or _trailing(body)
        or _counted(body)
    )
    if line is None:
        line = RecipeLine(raw, "", *_named(body))
    instead = _INSTEAD.search(raw)
    line = replace(
        line,
        optional=_OPTIONAL.search(raw) is not None,
        instead=instead["other"].strip(" .)") if instead else "",
    )
    reduced_to = share_reduced_to(line.note) or share_reduced_to(line.name)
    if reduced_to:
        line = replace(line, reduced_to=reduced_to, name=_REDUCED.sub("", line.name).strip(" ,"))
    return replace(line, raw=raw)


def share_reduced_to(text: str) -> float | None:
    """Return the share of its weight to which a text says something is cooked down, None where it says nothing."""
    reduced = _REDUCED.search(text)
    if reduced is None:
        return None
    share = _FRACTION_WORDS[reduced["share"].lower()]
    return share if reduced["how"].lower() == "to" else 1 - share


def _numbered(body: str) -> str:
    """Write leading number words as numbers."""
    if dozen := _DOZEN.match(body):
        return ("6" if dozen["half"] else "12") + body[dozen.end() :]
    if whole := _AND_A_HALF.match(body):
        return f"{_WORDS[whole['word'].lower()]} 1/2{body[whole.end() :]}"
    if half := _HALF_OF.match(body):
        return "1/2" + body[half.end() :]
    first, _, rest = body.partition(" ")
    if first.lower() in ("a", "an") and _UNSAID.match(body):
        return body
    number = _WORDS.get(first.lower())
    return f"{number} {rest}" if number and rest else body


def _shared(body: str) -> RecipeLine | None:
    match = _SHARED.match(body)
    return match and RecipeLine(body, f"{match['number']} {match['unit']}", *_named(body[match.end() :]))


def _juice(body: str) -> RecipeLine | None:
    match = _JUICE.match(body)
    if match is None:
        return None
    rest = _numbered(match["rest"])
    part = match["part"].lower().replace("rind", "zest").replace("peel", "zest")
    counted = _COUNTED.match(rest)
    name, note = _named(rest[counted.end() :] if counted else _UNSAID.sub("", rest).strip())
    whole = name if part.startswith("seed") else f"{_one(name)} {part}"
    note = "; ".join(filter(None, (f"{match['also']} too" if match["also"] else "", note)))
    return RecipeLine(body, _span(counted) if counted else "", whole, note, counted=counted is not None)


def _one(name: str) -> str:
    return re.sub(r"^(?:large|small|medium|big|ripe|unwaxed|fresh) ", "", name, flags=re.IGNORECASE)


def _small(body: str) -> RecipeLine | None:
    match = _SMALL.match(body)
    if match is None or body[:1].isdigit():
        return None
    unit = re.sub(r"(?<=h)es$|(?<=[plbg])s$", "", match["unit"].lower())
    return RecipeLine(body, f"1 {unit}", *_named(body[match.end() :]))


def _packed(body: str) -> RecipeLine | None:
    match = _PACK.match(body)
    if match is None:
        return None
    pack, unit = _CONTAINERS[match["pack"].lower()], UNIT_SPELLINGS[match["unit"].lower().replace("fl.", "fl")]
    amount = f"{spoken(match['count'].strip(), pack)} {match['weight'].strip()} {unit}"
    return RecipeLine(body, amount, *_named(body[match.end() :]))


def _measured(body: str) -> RecipeLine | None:
    match = _MEASURED.match(body)
    if match is None:
        return None
    written = match["unit"]
    unit = _CASED.get(written) or UNIT_SPELLINGS.get(written.lower()) or _CONTAINERS[written.lower()]
    amount, rest, by_pack = spoken(_span(match), unit), body[match.end() :], unit in _CONTAINERS.values()
    rest = re.sub(r"^\(([a-z ]+)\)\s*", "", rest)
    if not by_pack and (more := _PLUS.match(rest)):
        amount += f" + {more['number'].strip()} {UNIT_SPELLINGS[more['unit'].lower()]}"
        rest = rest[more.end() :]
    if beside := _BESIDE.match(rest):
        rest = rest[beside.end() :]
        message = UNIT_SPELLINGS[beside["unit"].lower().replace("fl.", "fl")]
        if by_pack and (beside["each"] or _span(match) == "1"):
            amount = f"{spoken(_span(match), unit)} {beside['number'].strip()} {message}"
        elif unit not in ("g", "kg") and (message in ("g", "kg") or unit not in ("ml", "l", "cl", "dl", "oz", "lb")):
            amount = f"{beside['number'].strip()} {message}"
    elif by_pack and (weighs := _WEIGHED_BEHIND.search(rest)):
        amount = f"{spoken(_span(match), unit)} {weighs['number'].strip()} {UNIT_SPELLINGS[weighs['unit'].lower()]}"
    rest = _SLASHED.sub("", rest)
    return RecipeLine(body, amount, *_named(re.sub(r"^of ", "", rest)))


def _trailing(body: str) -> RecipeLine | None:
    match = _TRAILING.search(body, max(len(body) - _LONGEST_TRAILING, 0))
    if match is None:
        return None
    name = body[: match.start()].rstrip(_SIGNS_BEFORE_AMOUNT)
    if not _NAME_BEFORE_AMOUNT.fullmatch(name):
        return None
    unit = UNIT_SPELLINGS[match["unit"].lower()]
    return RecipeLine(body, f"{match['number'].strip()} {unit}", *_named(name))


def _counted(body: str) -> RecipeLine | None:
    match = _COUNTED.match(body)
    if match is None:
        return None
    rest = body[match.end() :]
    beside = re.search(rf"\((?:about |approx\.? )?({NUMBER})\s*(g|kg|ml)\b(?! each)[^)]*\)", rest, re.IGNORECASE)
    name, note = _named(rest)
    part = _DONE_TO_FRUIT.search(note)
    if part:
        name = f"{_one(name)} {'juice' if part['part'].lower().startswith('juice') else 'zest'}"
    if beside:
        return RecipeLine(body, f"{beside[1].strip()} {beside[2].lower()}", name, note)
    return RecipeLine(body, _span(match), name, note, counted=True)


def spoken(count: str, unit: str) -> str:
    """Return a count with its unit as people write it: “2 cups”, “4 yolks”, “½ cup”, “3 leaves”."""
    if unit.removeprefix("us ") in _ABBREVIATED or not _MORE_THAN_ONE.match(count):
        return f"{count} {unit}"
    if unit.endswith("f"):
        return f"{count} {unit[:-1]}ves"
    return f"{count} {unit}{'es' if unit.endswith(('ch', 'sh', 'x')) else 's'}"


def _span(match: re.Match[str]) -> str:
    upto = match["upto"]
    return match["number"].strip() + (f"–{upto.strip()}" if upto else "")


def _named(text: str) -> tuple[str, str]:
    """Part a name from what is said beside it: after a comma, in parentheses, as an alternative."""
    beside = list(filter(None, (part.strip() for part in re.findall(r"\(([^)]*)\)?", text))))
    bare = re.sub(r"\([^)]*\)?", " ", text)
    head, *rest = re.split(r",(?!\d)|;| – | — | - |\s+\bor\b\s+|\*", bare, maxsplit=1)
    percent = [found.group() for part in (*beside, *rest) if (found := _PERCENT.search(part))]
    if unsaid := _UNSAID.search(head):
        beside.append(unsaid[0])
        head = _LEFT_OF_COUNT.sub("", _UNSAID.sub("", head).strip())
    name = " ".join([*head.split(), *percent[:1]])
    return name.strip(" .:"), "; ".join(filter(None, (*beside, *(" ".join(part.split()) for part in rest))))
