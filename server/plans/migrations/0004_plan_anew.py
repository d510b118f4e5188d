from django.apps.registry import Apps
from django.db import migrations
from django.db.backends.base.schema import BaseDatabaseSchemaEditor


def mark(apps: Apps, schema_editor: BaseDatabaseSchemaEditor) -> None:
    """Plans made before orders could go in several parcels may be held for nothing: let them be made anew."""
    apps.get_model("plans", "Plan")._base_manager.update(stale=True)


class Migration(migrations.Migration):
    dependencies = [("plans", "0003_several_parcels")]

    operations = [migrations.RunPython(mark, migrations.RunPython.noop)]
