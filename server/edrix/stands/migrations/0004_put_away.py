"""Stands are put away and brought back."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('stands', '0003_passes'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='keygap',
            options={'verbose_name_plural': 'gaps'},
        ),
        migrations.AddField(
            model_name='stand',
            name='put_away_at',
            field=models.DateTimeField(null=True),
        ),
    ]
