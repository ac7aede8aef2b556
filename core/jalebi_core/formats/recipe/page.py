"""The text of a web page by blocks, and the data that it carries beside."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from lxml import etree

_BLOCKS: Final = frozenset(
    "p div li br tr h1 h2 h3 h4 h5 h6 section article ul ol table dt dd".split()  # noqa: SIM905
)
_UNSEEN: Final = frozenset(("script", "style", "noscript", "template"))
_MARKUP: Final = re.compile(r"<(?:html|body|div|p|li|ul|span|br|script|h[1-6]|table|!doctype)\b", re.IGNORECASE)
_FAR_ENOUGH: Final = 200_000


class Page:
    """A page parsed once; whatever is broken in it is passed over, as browsers do."""

    def __init__(self, markup: str) -> None:
        # lxml takes tenths of a second to load, and most pasted recipes are plain text.
        from lxml import etree

        # Without `huge_tree` lxml bounds how deep elements lie and how long a text of one is.
        parser = etree.HTMLParser(encoding="utf-8", remove_comments=True, remove_pis=True, no_network=True)
        self._root: etree._Element | None = etree.fromstring(markup.encode("utf-8", "replace"), parser)

    def data_blocks(self) -> Iterator[str]:
        """Give the JSON-LD blocks in order."""
        if self._root is not None:
            for script in self._root.iter("script"):
                if script.get("type") == "application/ld+json":
                    yield script.text or ""

    def text(self) -> str:
        """Return what a reader sees, one line for each block."""
        return "" if self._root is None else "".join(_seen(self._root))


def is_markup(text: str) -> bool:
    """Say whether a text is a page rather than plain words."""
    return _MARKUP.search(text, 0, _FAR_ENOUGH) is not None


def _seen(root: etree._Element) -> Iterator[str]:
    from lxml import etree

    for moment, element in etree.iterwalk(root, events=("start", "end")):
        seen = element.tag not in _UNSEEN
        if element.tag in _BLOCKS:
            yield "\n"
        if moment == "start" and seen and element.text:
            yield _on_one_line(element.text)
        if moment == "end" and element.tail:
            yield _on_one_line(element.tail)


def _on_one_line(text: str) -> str:
    return re.sub(r"\s+", " ", text)
