"""Re-marking is on record, so that it can be taken back."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('marking', '0001_initial'),
        ('sheets', '0010_opening_times'),
        ('stands', '0004_put_away'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='ReMarking',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('taken_back_at', models.DateTimeField(null=True)),
                ('from_key', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='stands.key')),
                ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('sheet', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='re_markings', to='sheets.sheet')),
                ('to_key', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='stands.key')),
            ],
        ),
    ]
