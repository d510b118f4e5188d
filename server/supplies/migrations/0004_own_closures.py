"""The grade of a mailer's seal becomes the closure that has it, as the supplies file reads old files."""

from django.db import migrations

CLOSES = """
UPDATE supplies_supply
SET facts = (facts - 'grade') || jsonb_build_object(
    'closes', CASE facts->>'grade' WHEN 'evident' THEN 'strip' WHEN 'resistant' THEN 'tabs' ELSE 'flap' END)
WHERE kind = 'mailer' AND jsonb_exists(facts, 'grade')
"""


class Migration(migrations.Migration):
    dependencies = [("supplies", "0003_estimated_retired")]

    operations = [migrations.RunSQL(CLOSES, migrations.RunSQL.noop)]
