"""Classes are put away; students leave and keep their record."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('classes', '0001_initial'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='membership',
            options={'verbose_name_plural': 'people'},
        ),
        migrations.AlterModelOptions(
            name='teachingclass',
            options={'verbose_name_plural': 'classes'},
        ),
        migrations.AddField(
            model_name='membership',
            name='left_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='teachingclass',
            name='put_away_at',
            field=models.DateTimeField(null=True),
        ),
    ]
