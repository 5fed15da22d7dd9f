"""Engines are put away and brought back."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('engines', '0001_initial'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='engineversion',
            options={'verbose_name_plural': 'versions'},
        ),
        migrations.AddField(
            model_name='engine',
            name='put_away_at',
            field=models.DateTimeField(null=True),
        ),
    ]
