"""The database itself refuses to change a version."""

from django.db import migrations

TABLES = ("kits_kitversion", "kits_paperversion", "kits_handversion")


def trigger(table):
    return migrations.RunSQL(
        f"CREATE TRIGGER {table}_never_changes BEFORE UPDATE ON {table} "
        "BEGIN SELECT RAISE(ABORT, 'a version never changes'); END;",
        f"DROP TRIGGER {table}_never_changes;",
    )


class Migration(migrations.Migration):
    dependencies = [("kits", "0001_initial")]
    operations = [trigger(table) for table in TABLES]
