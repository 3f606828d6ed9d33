"""Marks tell whole layers; notes and photographs stand beside them."""

import django.db.models.deletion
import django.utils.timezone
import uuid
from django.conf import settings
from django.db import migrations, models


FREEZE = (
    "CREATE TRIGGER journal_drawn_never_changes BEFORE UPDATE ON journal_drawn "
    "BEGIN SELECT RAISE(ABORT, 'a mark of the log never changes'); END;"
)
THAW = "DROP TRIGGER journal_drawn_never_changes;"


def laid_of(token):
    """The layer that an older mark named by a token: place, number, colour, stroke."""
    place, number, rest = token.split(":", 2)
    if ":coat:" in rest:
        colour, _, passes, wet = rest.rsplit(":", 3)
        return {"place": place, "number": int(number), "layer": {"colour": colour, "passes": int(passes), "wet": wet == "wet"}}
    colour, pressure, passes, point, turned = rest.rsplit(":", 4)
    layer = {"colour": colour, "pressure": pressure, "passes": int(passes), "point": point, "turned": turned == "turned"}
    return {"place": place, "number": int(number), "layer": layer}


def tell_layers(apps, schema_editor):
    """Older marks named their layers by tokens, and took back by tokens too."""
    drawn = apps.get_model("journal", "Drawn")
    held = {}
    for mark in drawn.objects.order_by("made", "pk"):
        there = held.setdefault(mark.study_id, [])
        if mark.kind == "back":
            back = next((m for m in reversed(there) if set(m.tokens) & set(mark.tokens)), None)
            if back is not None:
                there.remove(back)
                mark.undoes = back.client_id
        else:
            there.append(mark)
            mark.laid = [laid_of(token) for token in mark.tokens if token.count(":") >= 5]
        mark.save(update_fields=["laid", "undoes"])


class Migration(migrations.Migration):

    dependencies = [
        ('journal', '0002_log_only_grows'),
        ('references', '0002_areamap'),
        ('studies', '0004_own_school'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RunSQL(THAW, FREEZE),
        migrations.CreateModel(
            name='Entry',
            fields=[
                ('id', models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ('made', models.DateTimeField(default=django.utils.timezone.now, editable=False)),
                ('client_id', models.UUIDField()),
                ('text', models.TextField(blank=True)),
                ('place', models.CharField(blank=True, max_length=40)),
                ('tone', models.JSONField(null=True)),
            ],
            options={
                'verbose_name_plural': 'entries',
                'ordering': ['made'],
            },
        ),
        migrations.RemoveConstraint(
            model_name='drawn',
            name='drawn_kind_known',
        ),
        migrations.AddField(
            model_name='drawn',
            name='laid',
            field=models.JSONField(default=list),
        ),
        migrations.AddField(
            model_name='drawn',
            name='undoes',
            field=models.UUIDField(null=True),
        ),
        migrations.AddField(
            model_name='drawn',
            name='minutes',
            field=models.FloatField(null=True),
        ),
        migrations.AlterField(
            model_name='drawn',
            name='made',
            field=models.DateTimeField(default=django.utils.timezone.now, editable=False),
        ),
        migrations.RunPython(tell_layers, migrations.RunPython.noop),
        migrations.RemoveField(
            model_name='drawn',
            name='tokens',
        ),
        migrations.AlterField(
            model_name='drawn',
            name='kind',
            field=models.CharField(choices=[('done', 'done'), ('wrong', 'laid the wrong one'), ('lifted', 'lifted off'), ('back', 'taken back')], max_length=10),
        ),
        migrations.AddConstraint(
            model_name='drawn',
            constraint=models.CheckConstraint(condition=models.Q(('kind__in', ['done', 'wrong', 'lifted', 'back'])), name='drawn_kind_known'),
        ),
        migrations.AddField(
            model_name='entry',
            name='owner',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='entry',
            name='picture',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='references.picture'),
        ),
        migrations.AddField(
            model_name='entry',
            name='study',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='entries', to='studies.study'),
        ),
        migrations.AddConstraint(
            model_name='entry',
            constraint=models.UniqueConstraint(fields=('study', 'client_id'), name='entry_once'),
        ),
        migrations.RunSQL(FREEZE, THAW),
    ]
