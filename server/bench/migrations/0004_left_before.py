from django.db import migrations

#: What was closed more than a day ago has left; nobody wrote that down then.
LEFT = """
UPDATE bench_parcel SET handed_over_at = closed_at
WHERE state = 'closed' AND handed_over_at IS NULL AND closed_at < now() - interval '1 day'
"""


class Migration(migrations.Migration):
    dependencies = [
        ("bench", "0003_handed_over"),
    ]

    operations = [
        migrations.RunSQL(LEFT, migrations.RunSQL.noop),
    ]
