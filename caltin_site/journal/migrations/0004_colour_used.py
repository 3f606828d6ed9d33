"""Marks tell what they took of the sticks, and which colour ran dry."""

from django.db import migrations, models

FREEZE = (
    "CREATE TRIGGER journal_drawn_never_changes BEFORE UPDATE ON journal_drawn "
    "BEGIN SELECT RAISE(ABORT, 'a mark of the log never changes'); END;"
)
THAW = "DROP TRIGGER journal_drawn_never_changes;"
KINDS = [
    ("done", "done"), ("wrong", "laid the wrong one"), ("lifted", "lifted off"), ("dry", "ran dry"), ("back", "taken back"),
]


class Migration(migrations.Migration):

    dependencies = [("journal", "0003_entries_and_layers")]

    operations = [
        migrations.RunSQL(THAW, FREEZE),
        migrations.RemoveConstraint(model_name="drawn", name="drawn_kind_known"),
        migrations.AddField(model_name="drawn", name="used", field=models.JSONField(default=dict)),
        migrations.AlterField(model_name="drawn", name="kind", field=models.CharField(choices=KINDS, max_length=10)),
        migrations.AddConstraint(
            model_name="drawn",
            constraint=models.CheckConstraint(condition=models.Q(kind__in=[k for k, _ in KINDS]), name="drawn_kind_known"),
        ),
        migrations.RunSQL(FREEZE, THAW),
    ]
