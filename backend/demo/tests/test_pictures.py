"""What the made-up school measured in pictures is true of what is drawn, and stands where a teacher finds it."""

import io

from django.core.management import call_command
from django.test import TestCase, override_settings

from bench.models import LedgerEvent
from bench.remembered import result_of
from camera import services as camera
from camera.models import CardSet
from demo.build import load
from demo.management.commands import load_demo
from demo.pictures import GAP_M, SAG_M, TEAM, take_pictures
from designs.models import LAST, MEASURED, Design, Photo
from girder_core.ground import GirderError
from girder_core.measure import COVERAGE_FACTOR, System
from people.models import Teacher
from people.tests.support import folder_for_photographs
from results.drawn import motion_charts


@override_settings(ALLOWED_HOSTS=["127.0.0.1"])
class Pictures(TestCase):
    def test_a_gap_and_a_sag_are_measured(self) -> None:
        folder_for_photographs(self)
        teacher = load(neighbours=False)
        take_pictures(teacher)
        design = Design.objects.get(run__school_class__name="8 Tern", run__family="bridge", team__name=TEAM)
        gap = design.counting_readings()["gap"]
        self.assertLess(abs(gap.value_si - GAP_M), COVERAGE_FACTOR * gap.standard_uncertainty_si)
        trial = design.trials.get()
        result = result_of(trial)
        (sag,) = result.taken
        self.assertLess(abs(sag.quantity.value - SAG_M), COVERAGE_FACTOR * sag.quantity.standard_uncertainty)
        self.assertFalse(result.ended)
        self.assertEqual(LedgerEvent.objects.filter(data__source="picture").count(), 1)
        self.assertEqual(
            sorted(Photo.objects.filter(design=design).values_list("what", flat=True)), sorted([LAST, MEASURED])
        )
        (chart,) = motion_charts(trial, System.METRIC)
        self.assertEqual(chart.key, "sag")

    def test_a_school_that_is_there_is_left_as_it_is(self) -> None:
        load(neighbours=False)
        call_command("load_demo")
        self.assertEqual(Photo.objects.count(), 0)

    def test_where_a_picture_fails_the_school_is_there_without(self) -> None:
        def fails(teacher: Teacher) -> None:
            take_a_bar(teacher)
            raise GirderError("busy", "The server has much to do just now.")

        command = load_demo
        self.addCleanup(setattr, command, "take_pictures", take_pictures)
        setattr(command, "take_pictures", fails)  # noqa: B010
        said = io.StringIO()
        call_command("load_demo", stderr=said)
        self.assertIn("measured nothing in pictures: The server has much to do", said.getvalue())
        self.assertTrue(Design.objects.filter(team__name=TEAM).exists())
        # Not by halves.
        self.assertEqual(CardSet.objects.count(), 0)


def take_a_bar(teacher: Teacher) -> None:
    camera.measure_bar(teacher, 1, "100 mm", "0.5 mm")
