import django.db.models.deletion
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('kits', '0005_control'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Keepsake',
            fields=[
                ('id', models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ('made', models.DateTimeField(auto_now_add=True)),
                ('name', models.CharField(max_length=120)),
                ('note', models.TextField(blank=True)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'abstract': False,
            },
        ),
        migrations.CreateModel(
            name='KeepsakeVersion',
            fields=[
                ('id', models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ('made', models.DateTimeField(auto_now_add=True)),
                ('number', models.PositiveIntegerField()),
                ('data', models.JSONField()),
                ('hand_version', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='kits.handversion')),
                ('keepsake', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='versions', to='library.keepsake')),
                ('kit_version', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='kits.kitversion')),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('paper_version', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='kits.paperversion')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('keepsake', 'number'), name='keepsake_number_once')],
            },
        ),
    ]
