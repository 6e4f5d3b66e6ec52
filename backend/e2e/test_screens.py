"""Every screen of the demo: it shows, it is accessible, nothing complains; names that try to be code stay names."""

from __future__ import annotations

from django.core.management import call_command

from challenges.models import Recipe, Run
from demo.build import load
from demo.world import TEACHER_EMAIL, TEACHER_PASSWORD
from designs.models import Design
from e2e.served import PHONE, TABLET_IN_PORTRAIT, InterfaceTest
from live.services import open_board
from people.models import Teacher, Team

OVER_EACH_OTHER = """
const over = [], off = []; let words = 0;
for (const sheet of document.querySelectorAll("main svg[viewBox]")) {
  const box = (shape) => shape.getBBox();
  const texts = [...sheet.querySelectorAll("text")].filter((t) => t.textContent && t.getAttribute("font-size"));
  words += texts.length;
  // Between ascender and descender: lines may stand close.
  const within = (b) => ({ x0: b.x, x1: b.x + b.width, y0: b.y + 0.2 * b.height, y1: b.y + 0.8 * b.height });
  const boxes = texts.map((text) => within(box(text)));
  boxes.forEach((a, i) => boxes.slice(i + 1).forEach((b, j) => {
    if (Math.min(a.x1, b.x1) - Math.max(a.x0, b.x0) > 1 && Math.min(a.y1, b.y1) - Math.max(a.y0, b.y0) > 1)
      over.push(`${texts[i].textContent} / ${texts[i + 1 + j].textContent}`);
  }));
  // White words lie whole on something dark.
  const dark = [...sheet.querySelectorAll("polygon")].filter((p) => getComputedStyle(p).fill === KNOWN).map(box);
  texts.forEach((text, i) => {
    if (getComputedStyle(text).fill !== "rgb(255, 255, 255)") return;
    const a = boxes[i];
    if (!dark.some((b) => b.x <= a.x0 && a.x1 <= b.x + b.width && b.y <= a.y0 && a.y1 <= b.y + b.height))
      off.push(text.textContent);
  });
}
return [words, over, off];
""".replace("KNOWN", '"rgb(37, 112, 92)"')


class Demo(InterfaceTest):
    """The school is built once for all of these; what one of them changes, it changes back."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        load()

    @classmethod
    def tearDownClass(cls) -> None:
        call_command("flush", interactive=False, verbosity=0)
        super().tearDownClass()

    def _fixture_teardown(self) -> None:
        """Nothing is taken away between these tests."""

    def setUp(self) -> None:
        self.b = self.browser()
        self.run_ = Design.objects.filter(run__school_class__name="8 Tern", run__family="bridge")[0].run_id
        teams = {design.team.name: design.pk for design in Design.objects.filter(run=self.run_).select_related("team")}
        self.drafted, self.veiled = teams["Kittiwake"], teams["Dunlin"]
        self.masts, self.columns = (Run.objects.get(family=family).pk for family in ("tower", "column"))
        self.shaken, self.boats, self.tables, self.drops = (
            Run.objects.get(family=family).pk for family in ("shake_tower", "boat", "capacity_table", "drop_house")
        )
        self.judged = Run.objects.get(school_class__name="7 Plover", family="bridge").pk
        self.board = open_board(Run.objects.get(pk=self.run_)).token
        self.recipe = Recipe.objects.get(family="column").pk

    def screens(self) -> dict[str, str]:
        """Address of each main view, and words that say it is there."""
        base = f"/runs/{self.run_}"
        return {
            "/": "8 Tern",
            f"{base}/brief": "boat slip",
            f"{base}/kit": "of load on one bench",
            f"{base}/build": "What each team is trying",
            f"{base}/drafting/{self.drafted}": "Every way it can fail",
            f"{base}/drafting/{self.veiled}": "Say first what it will hold",
            "/drafting/truss": "Every way it can fail",
            "/drafting/boat": "Every way it can fail",
            "/stocks": "A sheet of your own",
            f"{base}/check-in": "Check in Dunlin",
            f"{base}/bench": "its own weight",
            f"{base}/compare": "Only Gannet could still pass",
            f"{base}/compare/why": "Who foresaw it?",
            f"{base}/compare/record": "over the years",
            f"{base}/trials": "All trials",
            f"{base}/next": "Change one thing",
            "/recipes/new": "Pick what is built",
            f"/recipes/{self.recipe}": "Against the clock",
            "/library": "Ready to take",
            f"/runs/{self.masts}/bench": "tall.",
            f"/runs/{self.shaken}/bench": "Levels survived",
            f"/runs/{self.boats}/bench": "next goes middle",
            f"/runs/{self.tables}/bench": "room for about",
            f"/runs/{self.drops}/bench": "Drop zone",
            f"/runs/{self.judged}/compare/rubric": "Of 100",
            f"/board/{self.board}": "leads",
            f"/runs/{self.masts}/compare": "reached",
            f"/runs/{self.columns}/brief": "A fair test",
        }

    def test_every_screen_is_accessible_and_quiet_and_fits_a_tablet(self) -> None:
        self.with_axe(self.b)
        self.b.open("/")
        self.b.sees("Sign in")
        self.accessible(self.b, "sign in")
        self.b.sign_in(TEACHER_EMAIL, TEACHER_PASSWORD)
        for address, words in self.screens().items():
            with self.subTest(address):
                self.b.resize(1280, 800)
                self.b.open(address)
                self.b.sees(words)
                self.accessible(self.b, address)
                self.b.resize(*TABLET_IN_PORTRAIT)
                width = self.b.driver.execute_script("return document.documentElement.scrollWidth")
                self.assertLessEqual(width, TABLET_IN_PORTRAIT[0])
                self.b.resize(*PHONE)
                width = self.b.driver.execute_script("return document.documentElement.scrollWidth")
                self.assertLessEqual(width, PHONE[0])
        self.assertEqual(self.b.complaints(), [])

    def test_words_in_charts_stand_clear_of_each_other(self) -> None:
        self.b.sign_in(TEACHER_EMAIL, TEACHER_PASSWORD)
        looked_at = 0
        for run in Run.objects.filter(school_class__owner__email=TEACHER_EMAIL).order_by("pk"):
            for page in ("compare", "compare/why"):
                with self.subTest(run.family, page=page):
                    self.b.open(f"/runs/{run.pk}/{page}")
                    self.b.sees("Ranking")
                    self.b.until(lambda: not self.b.all('[role="progressbar"]'), "the charts")
                    words, over, off = self.b.driver.execute_script(OVER_EACH_OTHER)
                    looked_at += words
                    self.assertEqual((over, off), ([], []))
        self.assertGreater(looked_at, 200)

    def test_units_switch_changes_figures_and_sentences(self) -> None:
        self.b.sign_in(TEACHER_EMAIL, TEACHER_PASSWORD)
        self.b.open(f"/runs/{self.run_}/compare")
        # Fulmar's ratio times Gannet's own weight, less what Gannet held: 35.3007 * 64.8 g - 2132 g.
        self.b.sees("155.5 g more would settle it")
        self.b.click("oz in")
        self.addCleanup(Teacher.objects.filter(email=TEACHER_EMAIL).update, units="metric")
        # 155.5 g over 28.3495 g.
        self.b.sees("5.48 oz more would settle it")
        self.b.sees("4.70 lb")

    def test_names_that_try_to_be_code_are_shown_as_names(self) -> None:
        gannet = Team.objects.filter(pk=Team.objects.get(name="Gannet", school_class__name="8 Tern").pk)
        gannet.update(name="<img src=x onerror=alert(1)>")
        self.addCleanup(gannet.update, name="Gannet")
        self.b.sign_in(TEACHER_EMAIL, TEACHER_PASSWORD)
        self.b.open(f"/runs/{self.run_}/compare")
        self.b.sees("Only <img src=x onerror=alert(1)> could still pass.")
        self.assertEqual(self.b.all('img[src="x"]'), [])

    def test_an_address_of_nothing_leads_somewhere(self) -> None:
        self.b.sign_in(TEACHER_EMAIL, TEACHER_PASSWORD)
        self.b.open("/runs/999999/bench")
        self.b.sees("There is nothing here, or it is not yours.")
        self.b.open("/no/such/page")
        self.b.sees("Runs")
