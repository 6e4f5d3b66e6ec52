"""Shipped sentences do not use what docs/words.md says is not to be written."""

import re
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

ROOT = Path(settings.BACKEND).parent
PAGE = ROOT / "docs" / "words.md"
BY_MEANING = {"in the middle, for a median", "a source with nothing said of it", "only the joints differs"}
"""What is right elsewhere, so that no search for the words finds it."""


def avoided() -> list[str]:
    """The words not to write, as the page lists them."""
    rows = re.findall(r"^\| .+? \| (.+?) \|$", PAGE.read_text("utf-8").split("## Write")[1], re.MULTILINE)
    return [words for row in rows if row not in ("not", "---", *BY_MEANING) for words in row.split(", ")]


def offends(text: str, words: list[str]) -> list[str]:
    """Those of the words that a text uses."""
    return [word for word in words if re.search(rf"(?<!\w){re.escape(word)}(?!\w)", text, re.IGNORECASE)]


def sentences() -> list[tuple[str, str]]:
    """What people read, with where: texts of shipped sources in quotes or between tags, printed pages, the guide."""
    read = []
    for file in [*(ROOT / "backend").rglob("*.py"), *(ROOT / "frontend" / "src").rglob("*.ts*")]:
        apart = {"tests", "e2e", "migrations", "benchmarks", "schema.d.ts"} & set(file.relative_to(ROOT).parts)
        if not apart:
            for text in re.findall(r'"([^"\n]{3,})"|`([^`]{3,})`|>\s*([A-Z][^<>{}]{3,})', file.read_text("utf-8")):
                read.append((str(file.relative_to(ROOT)), " ".join("".join(text).split())))
    for file in [*(ROOT / "backend").rglob("templates/**/*.html"), ROOT / "docs" / "guide.md", ROOT / "README.md"]:
        read.append((str(file.relative_to(ROOT)), " ".join(file.read_text("utf-8").split())))
    return read


class Words(SimpleTestCase):
    def test_what_is_not_to_be_written_is_not(self) -> None:
        words, read = avoided(), sentences()
        self.assertGreater(len(words), 10)
        self.assertGreater(len(read), 2000)
        for where, text in read:
            self.assertEqual(offends(text, words), [], f"{where}: “{text[:160]}”; docs/words.md says what to write")

    def test_sentences_that_people_stumbled_over_are_caught(self) -> None:
        for text in (
            "What differed did not concern the first places.", "One row an event, those taken back included.",
            "Ran out of load. It held at least", "Say it anew", "0 pennys",
            "chance would do as well 1e+02 times in a hundred",
            "It was on the bench already; what it was built to cannot change now.",
            "more than the doubt of measuring",
        ):  # fmt: skip
            self.assertNotEqual(offends(text, avoided()), [], text)

    def test_plurals_are_made_by_their_function(self) -> None:
        by_hand = re.compile(r"""'s' if|"s" if|\? "" : "s\"""")
        self.assertTrue(by_hand.search("f\"{n} pin{'s' if n > 1 else ''}\"") and by_hand.search('n === 1 ? "" : "s"'))
        for file in [*(ROOT / "backend").rglob("*.py"), *(ROOT / "frontend" / "src").rglob("*.ts*")]:
            if "tests" not in file.parts:
                for line in file.read_text("utf-8").splitlines():
                    self.assertIsNone(by_hand.search(line), f"{file.relative_to(ROOT)}: {line.strip()}")
