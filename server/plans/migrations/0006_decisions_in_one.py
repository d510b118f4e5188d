"""What a person decided becomes one document; what is missing is kept as messages; every open plan is made again."""

from django.db import migrations, models


def gather(apps, schema_editor):
    plans = apps.get_model("plans", "Plan")
    for plan in plans._base_manager.all().iterator():
        old = {
            "container": plan.forced_container or None,
            "forbidden": plan.forbidden,
            "may_lie_down": plan.laid,
            "note": plan.note,
            "parcels": plan.forced_parcels,
            "shares": plan.shares,
            "service": plan.forced_service or None,
            "not_before": plan.forced_day.isoformat() if plan.forced_day else None,
            "omitted": plan.without,
            "substitutes": plan.instead,
        }
        plan.overrides = {name: value for name, value in old.items() if value}
        plan.missing = [plan.summary] if plan.summary else []
        plan.stale = True
        plan.save(update_fields=["overrides", "missing", "stale"])


class Migration(migrations.Migration):
    dependencies = [("plans", "0005_overrides_of_advice")]

    operations = [
        migrations.AddField(
            "plan",
            "overrides",
            models.JSONField(default=dict, help_text="What a person decided: core.parcels.facts.Overrides"),
        ),
        migrations.AddField(
            "plan",
            "missing",
            models.JSONField(default=list, help_text="What is missing, as messages of the core; empty when planned"),
        ),
        migrations.RunPython(gather, migrations.RunPython.noop),
        *(
            migrations.RemoveField("plan", name)
            for name in (
                "forced_container",
                "forbidden",
                "laid",
                "note",
                "forced_parcels",
                "shares",
                "forced_service",
                "forced_day",
                "without",
                "instead",
                "summary",
            )
        ),
    ]
