"""A wave goes on when its worker is killed, counts right, and is not held up by one order that cannot be planned."""

from datetime import timedelta
from types import SimpleNamespace
from typing import Any, cast
from unittest import mock

from asgiref.sync import async_to_sync
from django.db import connection
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.job_context import JobContext

from server.plans import services, tasks, waves, writing
from server.plans.models import Plan, Wave
from tests.server.base import DemoCase


class WaveCase(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        waves.run_wave(workshop=self.workshop)
        Plan.objects.of(self.workshop).update(stale=True)

    def due(self) -> int:
        return services.due_orders(self.workshop).count()

    def jobs(self, status: str) -> list[int]:
        found = ProcrastinateJob.objects.filter(task_name=services.PLAN_STALE_TASK, status=status)
        return list(found.values_list("id", flat=True))

    def killed_in_mid_wave(self) -> int:
        """A worker took the job, began the wave, and was killed after its first handful. Returns the job's id."""
        services.plan_later(self.workshop)
        (job,) = self.jobs("todo")
        manager = app.job_manager
        worker = async_to_sync(manager.register_worker)()
        fetched = async_to_sync(manager.fetch_job)(queues=["plans"], worker_id=worker)
        assert fetched is not None and fetched.id == job
        plan, calls = services.plan_stale, iter((True, False))

        def twice(**given: Any) -> int:
            if next(calls):
                return plan(**given)
            raise SystemExit

        with (
            mock.patch.object(waves, "plan_stale", side_effect=twice),
            mock.patch.object(waves, "_HANDFUL", 3),
            self.assertRaises(SystemExit),
        ):
            waves.run_wave(workshop=self.workshop)
        self.silent_for(60)
        return job

    def silent_for(self, seconds: int) -> None:
        Wave.objects.of(self.workshop).filter(ended_at=None).update(told_at=timezone.now() - timedelta(seconds=seconds))
        with connection.cursor() as cursor:
            cursor.execute(
                "update procrastinate_workers set last_heartbeat = now() - make_interval(secs => %s)", [seconds]
            )

    def take_up(self) -> None:
        context = cast(JobContext, SimpleNamespace(app=app))
        async_to_sync(tasks.take_up_again.func)(context, 0)


class Killed(WaveCase):
    def test_its_job_is_taken_up_again_and_the_count_goes_on(self) -> None:
        total = self.due()
        job = self.killed_in_mid_wave()
        shown = self.ask("get", "plans/wave")
        self.assertEqual((shown["running"], shown["waiting"], shown["done"]), (True, True, 3))
        self.assertEqual((self.jobs("doing"), self.jobs("todo")), ([job], []))
        self.take_up()
        self.assertEqual((self.jobs("doing"), self.jobs("todo")), ([], [job]))
        waves.run_wave(workshop=self.workshop)
        wave = Wave.objects.of(self.workshop).latest("id")
        self.assertEqual((wave.done, wave.total, wave.ended_at is not None), (total, total, True))

    def test_when_the_same_is_asked_for_already_that_job_does_the_work(self) -> None:
        killed = self.killed_in_mid_wave()
        services.plan_later(self.workshop)
        (waiting,) = self.jobs("todo")
        self.take_up()
        self.assertEqual((self.jobs("doing"), self.jobs("todo"), self.jobs("failed")), ([], [waiting], [killed]))

    def test_a_worker_that_lives_keeps_its_job(self) -> None:
        job = self.killed_in_mid_wave()
        self.silent_for(5)
        self.take_up()
        self.assertEqual(self.jobs("doing"), [job])

    def test_a_wave_without_any_job_gets_one_or_ends(self) -> None:
        self.killed_in_mid_wave()
        ProcrastinateJob.objects.all()._raw_delete("default")
        self.assertEqual(waves.heal(), 1)
        self.assertEqual(len(self.jobs("todo")), 1)
        ProcrastinateJob.objects.all()._raw_delete("default")
        Plan.objects.of(self.workshop).update(stale=False)
        self.assertEqual(waves.heal(), 1)
        self.assertFalse(self.ask("get", "plans/wave")["running"])


class Counts(WaveCase):
    def test_orders_that_become_due_meanwhile_are_counted_in(self) -> None:
        plan, turns = services.plan_stale, iter(range(100))
        seen: list[tuple[int, int]] = []

        def stale_again(**given: Any) -> int:
            done = plan(**given)
            if next(turns) < 3:  # a receipt in the midst of the wave
                Plan.objects.of(self.workshop).update(stale=True)
            shown = self.ask("get", "plans/wave")
            seen.append((shown["done"], shown["total"]))
            return done

        with mock.patch.object(waves, "plan_stale", side_effect=stale_again):
            waves.run_wave(workshop=self.workshop)
        self.assertTrue(all(done <= total for done, total in seen), seen)
        wave = Wave.objects.of(self.workshop).latest("id")
        self.assertEqual(wave.done, wave.total)

    def test_an_order_that_cannot_be_planned_is_left_out_and_the_others_are_planned(self) -> None:
        bad = services.due_orders(self.workshop).order_by("placed_on", "id")[1]
        draft, total = writing.draft, self.due()

        def broken(workshop: Any, orders: Any, **given: Any) -> Any:
            if any(order.pk == bad.pk for order in orders):
                raise ZeroDivisionError("a fault of the program")
            return draft(workshop, orders, **given)

        with mock.patch.object(services, "draft", side_effect=broken), self.assertLogs(waves._LOG, "ERROR") as logged:
            self.assertEqual(waves.run_wave(workshop=self.workshop), total - 1)
        self.assertIn(str(bad.pk), logged.output[0])
        wave = Wave.objects.of(self.workshop).latest("id")
        self.assertEqual((wave.failed, wave.ended_at is not None), (1, True))
        self.assertEqual(list(services.due_orders(self.workshop).values_list("pk", flat=True)), [bad.pk])
