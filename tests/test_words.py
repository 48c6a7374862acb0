"""One word for one thing: nothing that a user reads is in the words that were given up."""

from __future__ import annotations

import re
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

#: Wordings that could not be understood, or meant something else to a teacher.
GIVEN_UP = (
    "In band", "School of playing", "than this school wants", "Your hand", "Take a band in",
    "Dark room", "Send clips", "More of a folder", "Take in a class list", "Take them in",
    "Leave as it was", "Leave it as it was", "Mend the table", "is no instrument Sulvet knows",
    "This is no clip", "as a mirror does", "Nobody sits here yet", "Nobody fits",
    "Waiting or not", "Kept too long", "Change facts", "a first look", "read its take",
    "Take that back", "Done, on to", "more staves", "Put its letter", "Nothing else stands",
    "What waits", "it changes most", "what it is confused with", "beside the middle",
    "lip's red", "aslant", "Tone over its air", "Pitch, unrest", "Rise of the start",
    "It sounds like", "No note is known", "(taken to be)", "Looked at, in order",
    "comes together", "put the reeds in", "no toys", "Mend first", "watch below", "watch above",
    "as shipped", "let stand", "go for good", "To be kept no longer", "Make room there",
)  # fmt: skip
#: Where users read: pages, data files, and sentences in code.
TREES = (("frontend/src", ".ts*"), ("sulvet", ".toml"), ("sulvet", ".py"))
#: Code words that no user sees: a verdict as the API calls it.
STRING = re.compile(r'"(?:[^"\\\n]|\\.)*"|`(?:[^`\\]|\\.)*`|>[^<>{}=]+<')


def texts(path: Path) -> str:
    """What a file says to users: its strings and the text between tags."""
    source = path.read_text("utf-8").replace("&apos;", "'")
    if path.suffix == ".toml":
        return source
    source = re.sub(r'"""(?:[^"]|"(?!""))*"""', "", source)
    # Sentences go over several lines and several strings.
    return re.sub(r'"\s*\n\s*f?"', "", " ".join(STRING.findall(source)))


class WordsTests(SimpleTestCase):
    def test_no_given_up_wording_is_left(self) -> None:
        left = []
        for tree, ending in TREES:
            for path in sorted((settings.ROOT / tree).rglob(f"*{ending}")):
                if ".test." in path.name or {"migrations", "simulate"} & set(path.parts):
                    continue
                said = re.sub(r"\s+", " ", texts(path))
                left += [f"{path.name}: {word}" for word in GIVEN_UP if word in said]
        self.assertEqual(left, [])
        handbook = (settings.ROOT / "docs" / "working.md").read_text("utf-8")
        self.assertEqual([word for word in GIVEN_UP if word in handbook], [])
