"""Where teachers are many: what one of them may see is found without reading what all the others have."""

from collections.abc import Iterator
from typing import Any

from django.db import connection
from django.db.models import Count
from django.test import TestCase

from challenges.models import Run
from people.models import Colleague, SchoolClass
from people.policy import CLASS_PATHS, models_with_owner, owned
from people.tests.support import Api, Ledger, checked_in, run, teacher

OTHERS = 2000


def nodes(plan: dict[str, Any]) -> Iterator[dict[str, Any]]:
    yield plan
    for part in plan.get("Plans", []):
        yield from nodes(part)


class Many(TestCase):
    def setUp(self) -> None:
        self.ada, other = teacher("Ada"), teacher("Bea")
        self.own, self.theirs = run(self.ada), run(other)
        for each in (self.own, self.theirs):
            Ledger(Api(each.school_class.owner), checked_in(each.designs.all()[0]))
        Colleague.objects.create(school_class=self.theirs.school_class, teacher=self.ada, part="helper")

    def test_nothing_of_others_is_read_and_thrown_away(self) -> None:
        stranger = teacher("Mallory")
        classes = SchoolClass.objects.bulk_create(SchoolClass(owner=stranger, name=f"class {n}") for n in range(OTHERS))
        Run.objects.bulk_create(
            Run(school_class=each, date=self.own.date, **self.own.terms()) for each in classes
        )  # fmt: skip
        with connection.cursor() as cursor:
            cursor.execute("ANALYZE people_schoolclass, challenges_run, people_colleague, people_teacher")
            # What is listed; all else is asked for by its number.
            for rows in (SchoolClass.objects.all(), Run.objects.all(), Run.objects.annotate(many=Count("designs"))):
                with self.subTest(rows.query.model):
                    sql, values = owned(rows, self.ada).query.sql_with_params()
                    cursor.execute(f"EXPLAIN (ANALYZE, FORMAT JSON) {sql}", values)
                    [[[told]]] = cursor.fetchall()
                    thrown = [
                        int(node.get(f"Rows Removed by {what}", 0)) * int(node["Actual Loops"])
                        for node in nodes(told["Plan"])
                        for what in ("Filter", "Join Filter")
                    ]
                    self.assertLess(sum(thrown), OTHERS // 10)

    def test_own_and_others_classes_are_both_there_and_each_once(self) -> None:
        classes = [self.own.school_class_id, self.theirs.school_class_id]
        for model in models_with_owner():
            if path := CLASS_PATHS.get(model._meta.label):
                with self.subTest(model._meta.label):
                    there = model._base_manager.filter(**{f"{path}__in": classes})
                    found = owned(model._base_manager.all(), self.ada)
                    self.assertCountEqual(found.values_list("pk", flat=True), there.values_list("pk", flat=True))
