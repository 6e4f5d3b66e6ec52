"""JSON from outside: what is let in can be written down, computed with, and read back as it was."""

from __future__ import annotations

import json
import unittest

from hypothesis import given
from hypothesis import strategies as st

from girder_core.ground import GirderError, sound_json

LETTERS = st.text(st.characters(exclude_characters="\x00", exclude_categories=["Cs"]))
SOUND = st.recursive(
    st.none() | st.booleans() | st.integers(-(10**15), 10**15) | st.floats(-1e15, 1e15)
    | LETTERS,
    lambda inner: st.lists(inner) | st.dictionaries(LETTERS, inner),
    max_leaves=40,
)  # fmt: skip


class SoundJSON(unittest.TestCase):
    @given(SOUND)
    def test_whatever_is_sound_is_read_as_any_reader_reads_it(self, value: object) -> None:
        text = json.dumps(value)
        self.assertEqual(sound_json(text), json.loads(text))
        self.assertEqual(sound_json(b"\xef\xbb\xbf" + text.encode()), json.loads(text))

    @given(SOUND, st.sampled_from((
        "NaN", "Infinity", "-Infinity", "1e400", "-1e16", "9" * 400, "9" * 5000, '"\\u0000"', '"\\ud800"',
        '"a\\udfffb"', '{"\\u0000": 1}', '{"\\udc00": 1}', "[" * 39 + "]" * 39, "[" * 100_000,
    )))  # fmt: skip
    def test_whatever_is_not_is_refused_by_where_it_stands(self, value: object, bad: str) -> None:
        text = json.dumps({"first": value, "then": [1, "HERE"]}).replace('"HERE"', bad)
        with self.assertRaises(GirderError) as caught:
            sound_json(text)
        error = caught.exception
        self.assertIn(error.code, ("unsound_json", "not_json"))
        self.assertTrue(error.sentence.endswith("."))
        if len(bad) < 400:
            where = next(iter(error.data["fields"]))
            self.assertTrue(where.startswith("then.1"), where)

    def test_no_json_is_told_with_its_line(self) -> None:
        for text, said in (
            ("", "The end is missing"), ('{\n"a": 1,\n', "Line 3 of 3"), ('{\n"a" 1}', "Line 2 of 2"),
            ('["a', "cut off"), (b"\xff\xfe[]", "UTF-8"),
        ):  # fmt: skip
            with self.assertRaises(GirderError) as caught:
                sound_json(text)
            self.assertEqual(caught.exception.code, "not_json")
            self.assertIn(said, caught.exception.sentence)

    def test_as_deep_as_it_may_be(self) -> None:
        self.assertEqual(str(sound_json("[" * 40 + "]" * 40)), "[" * 40 + "]" * 40)


if __name__ == "__main__":
    unittest.main()
