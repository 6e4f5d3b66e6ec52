"""Teachers, classes, teams."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import ClassVar, Self, TypeVar

from django.contrib.auth.models import AbstractBaseUser, BaseUserManager
from django.db import models
from django.db.models import Q
from django.db.models.functions import Lower

UNIT_SYSTEMS = [("metric", "g, kg, mm"), ("us", "oz, lb, in")]
KEPT_DAYS = 30
"""For so long what was deleted can be brought back."""


def gone_on(deleted_at: datetime) -> datetime:
    """When what was deleted at a moment is gone for good."""
    return deleted_at + timedelta(days=KEPT_DAYS)


class TeacherManager(BaseUserManager["Teacher"]):
    """Finds teachers; e-mail addresses differ by more than upper and lower case."""

    def get_by_natural_key(self, username: str | None) -> Teacher:
        """Find by e-mail address, whatever its case."""
        return self.get(email=(username or "").strip().lower())


class District(models.Model):
    """Schools that share a library of recipes, and nothing else."""

    name = models.CharField(max_length=80, unique=True)

    def __str__(self) -> str:
        return self.name


class School(models.Model):
    """A school: its teachers, with their classes, are apart from all others'."""

    name = models.CharField(max_length=80)
    # By which whoever runs the server names it, in commands and in the file of sign-ons.
    key = models.SlugField(max_length=40, unique=True)
    district = models.ForeignKey(District, null=True, blank=True, on_delete=models.SET_NULL, related_name="schools")
    made_at = models.DateTimeField(auto_now_add=True)
    # When its administrator deleted it; for a while that can be taken back, and everybody takes along what they want.
    leaving_at = models.DateTimeField(null=True, blank=True, editable=False)

    class Meta:
        ordering = ["name", "id"]

    @property
    def gone_on(self) -> datetime | None:
        """When it is gone for good, if its administrator deleted it."""
        return gone_on(self.leaving_at) if self.leaving_at else None

    def administrators(self) -> models.QuerySet[Teacher]:
        """Who administers it."""
        return self.teachers.filter(administers=True, is_active=True, leaving_at=None).order_by("name")

    def __str__(self) -> str:
        return self.name


class Teacher(AbstractBaseUser):
    """Someone who signs in and to whom everything belongs."""

    email = models.EmailField(unique=True)
    name = models.CharField(max_length=80)
    units = models.CharField(max_length=8, choices=UNIT_SYSTEMS, default="metric")
    is_active = models.BooleanField(default=True)
    joined_at = models.DateTimeField(auto_now_add=True)
    # Its password stands in the README: it opens on the machine that serves alone (``people.accounts``).
    is_demo = models.BooleanField(default=False, editable=False)
    # When its owner deleted it; for a while signing in brings it back (``people.leaving``).
    leaving_at = models.DateTimeField(null=True, blank=True, editable=False)
    # Accounts go one by one, with the files of their photographs, before their school does.
    school = models.ForeignKey(School, null=True, blank=True, on_delete=models.PROTECT, related_name="teachers")
    # Invites, removes and counts in the school, and sees nothing of anybody's classes by that.
    administers = models.BooleanField(db_default=False, default=False)
    # Whether the school's file may hold the teacher's classes and runs, when its administrator takes one.
    shares_work = models.BooleanField(db_default=False, default=False)
    # Who made a code for another password of this account, other than who runs the server, and when.
    reset_by = models.CharField(max_length=80, blank=True, db_default="", default="")
    reset_at = models.DateTimeField(null=True, blank=True)

    objects: ClassVar[TeacherManager] = TeacherManager()

    USERNAME_FIELD = "email"
    REQUIRED_FIELDS = ["name"]

    def __str__(self) -> str:
        return self.name


_R = TypeVar("_R", bound="Removable", covariant=True)


class Present(models.Manager[_R]):
    """What was not deleted. Every relation goes through it, so what was deleted is nowhere, until it comes back."""

    def get_queryset(self) -> models.QuerySet[_R]:
        return super().get_queryset().filter(removed_at__isnull=True)


class Removable(models.Model):
    """What can be deleted and brought back for a while. All that went at once has the same moment."""

    removed_at = models.DateTimeField(null=True, blank=True, editable=False)

    objects: ClassVar[Present[Self]] = Present()
    with_removed: ClassVar[models.Manager[Self]] = models.Manager()

    class Meta:
        abstract = True


class SchoolClass(Removable):
    """A class of one teacher."""

    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="classes")
    name = models.CharField(max_length=80)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name", "id"]
        constraints = [
            models.UniqueConstraint(
                "owner",
                Lower("name"),
                condition=Q(removed_at__isnull=True),
                name="class_name_once",
                violation_error_message="You have a class of that name.",
            )
        ]

    def __str__(self) -> str:
        return self.name


class Team(Removable):
    """A team of a class, with a colour and a mark."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="teams")
    name = models.CharField(max_length=40)
    mark = models.CharField(max_length=16)
    colour = models.CharField(max_length=7)
    position = models.PositiveSmallIntegerField(default=0)
    # First names of who is in it, if somebody gave them.
    members = models.JSONField(default=list, blank=True)

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.UniqueConstraint(
                "school_class", Lower("name"), condition=Q(removed_at__isnull=True), name="team_name_once",
                violation_error_message="This class has a team of that name.",
            )
        ]  # fmt: skip

    def __str__(self) -> str:
        return self.name


OBSERVER, HELPER, LEAD, OWNER = "observer", "helper", "lead", "owner"
PARTS = [(OBSERVER, "looks on"), (HELPER, "helps at check-in and bench"), (LEAD, "leads with you")]
"""What a colleague may do in a class; each may what those before it may. The class's own teacher may all, and alone
gives it away or deletes it."""
ORDER = (OBSERVER, HELPER, LEAD, OWNER)


class Colleague(models.Model):
    """A teacher who has a part in another one's class; it stays known when that ended."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="colleagues")
    teacher = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="parts")
    part = models.CharField(max_length=8, choices=PARTS)
    since = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["school_class", "teacher"], name="one_part_each")]

    def __str__(self) -> str:
        return f"{self.teacher}, {self.part} in {self.school_class}"


class ClassInvitation(models.Model):
    """An invitation into a class. Only what its code gives when it is mixed up (SHA-256) is kept."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="invitations")
    part = models.CharField(max_length=8, choices=PARTS)
    by = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="+")
    mixed = models.CharField(max_length=64, unique=True)
    # Where accounts are made by invitation, it makes one account.
    made_account = models.BooleanField(default=False)
    until = models.DateTimeField()

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"an invitation into {self.school_class}"


class Deed(models.Model):
    """Who changed what in a class that several have a part in. Entries of a trial say themselves whose they are."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="deeds")
    # As they were called then.
    name = models.CharField(max_length=80)
    # Which address of the API it was, and what it was about; in words by ``runs.deeds``.
    what = models.CharField(max_length=80)
    model = models.CharField(max_length=40)
    key = models.CharField(max_length=40)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return f"{self.name}: {self.what}"


class SignedIn(models.Model):
    """A session of a teacher, as the teacher is shown it: since when, and in which kind of browser."""

    teacher = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="signed_in")
    session_key = models.CharField(max_length=40, unique=True)
    browser = models.CharField(max_length=60)
    began_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-began_at"]

    def __str__(self) -> str:
        return f"{self.teacher}, {self.browser}"


class Tries(models.Model):
    """How often somebody tried at a door since when; one row for all server processes (``people.throttle``)."""

    door = models.CharField(max_length=120, primary_key=True)
    count = models.PositiveIntegerField()
    since = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.door}: {self.count}"


class Code(models.Model):
    """A code that works once: for a new password of a teacher, or, without a teacher, for a new account, which may be
    one of a school. Only what the code gives when it is mixed up (SHA-256) is kept."""

    mixed = models.CharField(max_length=64, unique=True)
    teacher = models.ForeignKey(Teacher, null=True, on_delete=models.CASCADE)
    school = models.ForeignKey(School, null=True, on_delete=models.CASCADE, related_name="invitations")
    # Whether who comes by it administers the school.
    administers = models.BooleanField(db_default=False, default=False)
    by = models.ForeignKey(Teacher, null=True, on_delete=models.CASCADE, related_name="+")
    until = models.DateTimeField()

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"a code for {self.teacher or 'a new account'}"
