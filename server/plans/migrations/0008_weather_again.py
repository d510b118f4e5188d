from django.db import migrations


def plan_again(apps, schema_editor):  # type: ignore[no-untyped-def]
    """Plans made before know nothing of the weather: the worker makes those of open orders again."""
    plans = apps.get_model("plans", "Plan").unscoped
    plans.filter(order__state__in=["new", "held", "planned"]).update(stale=True)


class Migration(migrations.Migration):
    dependencies = [
        ("plans", "0007_care"),
    ]

    operations = [
        migrations.RunPython(plan_again, migrations.RunPython.noop),
    ]
