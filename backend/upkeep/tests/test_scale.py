"""What docs/scale.md says is needed is what the figures beside it come to."""

from django.conf import settings
from django.test import SimpleTestCase

from benchmarks.needs import KEPT_YEARS, needs, table


def bare(lines: str) -> list[list[str]]:
    """The cells of a table, whatever its columns are wide."""
    rows = [
        [cell.strip() for cell in line.strip("|").split("|")] for line in lines.splitlines() if line.startswith("|")
    ]
    return [row for row in rows if not set("".join(row)) <= {"-"}]


class Scale(SimpleTestCase):
    def test_the_page_has_the_table_that_its_figures_make(self) -> None:
        page = (settings.BACKEND.parent / "docs" / "scale.md").read_text("utf-8")
        _, _, after = page.partition("## What they need")
        shown, _, _ = after.partition("\nAssumed")
        self.assertEqual(bare(shown), bare(table()))

    def test_by_hand(self) -> None:
        # 3,000 teachers, six runs of 1.5 h in 1,140 h of school, four times as many in the busiest: 94.7 lessons. Cores
        # half busy: 95 · 0.2 / 0.5 and 95 · 0.04 / 0.5. Six runs of 600 entries of 236 bytes, and 165 kB besides.
        district = needs(3000)
        self.assertEqual((district.lessons, district.server, district.database), (95, 38, 8))
        self.assertAlmostEqual(district.rows_gb, 3000 * (165e3 + 6 * 600 * 236) / 1e9)
        self.assertAlmostEqual(district.photos_gb, 3000 * 6 * 10 * 0.4 / 1e3)
        kept = KEPT_YEARS * (2 * district.rows_gb * 1.2 + district.photos_gb * 0.24)
        self.assertAlmostEqual(district.euro, (54 * 360 + kept) / 3000)

    def test_a_host_that_dies_is_not_missed_anywhere(self) -> None:
        for teachers in (1, 60, 3000):
            self.assertGreaterEqual(needs(teachers).server, 2)
