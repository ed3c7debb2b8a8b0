"""Take up again what a worker that died had begun."""

from typing import Any

from accounts.scope import EVERYONE, seeing
from bench.models import Analysis
from django.core.management.base import BaseCommand
from django.utils import timezone
from documents.models import Sheet
from procrastinate.contrib.django import app
from weeks.models import CrewWeek


class Command(BaseCommand):
    help = "Put the jobs that nobody works at any more back into the queue. Only while no worker runs."

    def handle(self, *args: Any, **options: Any) -> None:
        now = timezone.now()
        with seeing(EVERYONE):
            for table in (Analysis, CrewWeek, Sheet):
                rows = table.objects.filter(status=table.Status.RUNNING)
                rows.update(status=table.Status.QUEUED, touched=now)
        for job in app.job_manager.list_jobs(status="doing"):
            if job.id is not None:
                app.job_manager.retry_job_by_id(job.id, retry_at=now)
