"""The database itself refuses to change a mark of the log."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("journal", "0001_initial")]
    operations = [
        migrations.RunSQL(
            "CREATE TRIGGER journal_drawn_never_changes BEFORE UPDATE ON journal_drawn "
            "BEGIN SELECT RAISE(ABORT, 'a mark of the log never changes'); END;",
            "DROP TRIGGER journal_drawn_never_changes;",
        )
    ]
