"""``manage.py tidy``: delete for good what is past its time. The launcher calls it at a start and every few hours."""

from typing import Any

from django.contrib.sessions.models import Session
from django.core.management.base import BaseCommand
from django.utils import timezone

from people import deeds, throttle
from people.models import ClassInvitation, Code, SignedIn
from runs.removal_services import tidy
from tablets import services as tablets


class Command(BaseCommand):
    help = "Deletes for good what was deleted 30 days ago, and sessions, codes, tablets and counts that count no more."

    def handle(self, *args: Any, **options: Any) -> None:
        accounts = tidy()
        throttle.forget_old()
        deeds.forget_old()
        tablets.forget_old()
        now = timezone.now()
        Session.objects.filter(expire_date__lt=now).delete()
        SignedIn.objects.exclude(session_key__in=Session.objects.values("session_key")).delete()
        Code.objects.filter(until__lt=now).delete()
        ClassInvitation.objects.filter(until__lt=now).delete()
        if accounts:
            self.stdout.write(f"accounts gone for good: {accounts}")
