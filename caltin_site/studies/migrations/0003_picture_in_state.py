"""The picture becomes part of a study's state, so that undo covers it; older changes are given the one they had."""

from django.db import migrations


def forwards(apps, schema_editor):
    Study = apps.get_model("studies", "Study")
    for study in Study.objects.exclude(picture=None).iterator():
        study.pictures.add(study.picture)
        for change in study.changes.all():
            change.state["picture"] = str(study.picture_id)
            change.save(update_fields=["state"])


class Migration(migrations.Migration):
    dependencies = [("studies", "0002_study_pictures_alter_study_picture"), ("references", "0002_areamap")]
    operations = [migrations.RunPython(forwards, migrations.RunPython.noop)]
