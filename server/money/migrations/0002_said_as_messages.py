"""What-ifs of the days before the first release said their changes in another form; they are tried again in seconds."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("money", "0001_initial")]

    operations = [
        migrations.RunSQL(
            "delete from money_whatif where not (asked -> 'said' -> 0 ? 'code')", reverse_sql=migrations.RunSQL.noop
        ),
    ]
