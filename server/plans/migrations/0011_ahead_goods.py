from django.db import migrations, models


def plan_again(apps, schema_editor):  # type: ignore[no-untyped-def]
    """Plans made before do not name the goods of what is done ahead: the worker makes those of open orders again."""
    parts = apps.get_model("plans", "PlanPart").unscoped.exclude(ahead=[])
    plans = apps.get_model("plans", "Plan").unscoped
    plans.filter(pk__in=parts.values("plan"), order__state__in=["new", "held", "planned"]).update(stale=True)


class Migration(migrations.Migration):
    dependencies = [
        ("plans", "0010_trial_question"),
    ]

    operations = [
        migrations.AlterField(
            model_name="planpart",
            name="ahead",
            field=models.JSONField(
                default=list, help_text="To be done before the packing: [{what, hours, minutes, goods}]"
            ),
        ),
        migrations.RunPython(plan_again, migrations.RunPython.noop),
    ]
