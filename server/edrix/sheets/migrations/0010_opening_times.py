"""Sheets open and close, and are put away."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('classes', '0002_put_away_and_left'),
        ('sheets', '0009_hand_in_not_asked'),
        ('stands', '0004_put_away'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='handin',
            options={'verbose_name_plural': 'hand-ins'},
        ),
        migrations.AddField(
            model_name='sheet',
            name='closes_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='sheet',
            name='opens_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='sheet',
            name='put_away_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddConstraint(
            model_name='sheet',
            constraint=models.CheckConstraint(condition=models.Q(('opens_at__isnull', True), ('closes_at__isnull', True), ('opens_at__lt', models.F('closes_at')), _connector='OR'), name='sheet_opens_before_it_closes'),
        ),
    ]
