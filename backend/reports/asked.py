"""Which run a file is asked of, and what the file is called: for the views here and of records."""

from __future__ import annotations

from django.utils.text import slugify
from rest_framework.request import Request

from challenges.models import Run
from people.policy import owned_or_404


def run_and_name(request: Request, pk: int) -> tuple[Run, str]:
    """The asker's own run, and the name its files begin with."""
    run = owned_or_404(Run.objects.select_related("school_class"), request, pk)
    return run, f"{slugify(run.name)}-{slugify(run.school_class.name)}-{run.date.isoformat()}"
