"""A hand that was measured says with which kit and on which paper."""

import django.db.models.deletion
from django.db import migrations, models

_NAMED = "My hand on "


def say_whose(apps, schema_editor):
    """Hands were named by their paper alone; the kit is the one that was read there last."""
    hands, papers, sheets = (apps.get_model("kits", name) for name in ("Hand", "Paper", "SwatchSheet"))
    for hand in hands.objects.filter(name__startswith=_NAMED, paper=None):
        paper = papers.objects.filter(owner=hand.owner, name=hand.name.removeprefix(_NAMED)).first()
        sheet = paper and sheets.objects.filter(paper=paper, read__isnull=False).order_by("-read").first()
        if sheet:
            hand.paper, hand.kit = paper, sheet.kit
            hand.save(update_fields=["paper", "kit"])


class Migration(migrations.Migration):

    dependencies = [
        ('kits', '0005_control'),
    ]

    operations = [
        migrations.AddField(
            model_name='hand',
            name='kit',
            field=models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='hands', to='kits.kit'),
        ),
        migrations.AddField(
            model_name='hand',
            name='paper',
            field=models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='hands', to='kits.paper'),
        ),
        migrations.RunPython(say_whose, migrations.RunPython.noop),
    ]
